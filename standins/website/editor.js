// What an editor does with a picker: opens it in a window of its own, and takes what that window says, if it is the one that was opened.
const said = document.getElementById("said");
const picker = document.querySelector("[name=picker]");
let state, opened;

const block = (html) => {
  const field = document.createElement("textarea");
  field.name = "block";
  field.rows = 4;
  field.setAttribute("aria-label", "Block");
  field.value = html;
  document.getElementById("blocks").append(field);
  return field;
};

const text = (value) => {
  const p = document.createElement("p");
  p.textContent = value;
  return p.innerHTML.replaceAll('"', "&quot;");
};

document.getElementById("code").addEventListener("click", () => block("").focus());
document.getElementById("pick").addEventListener("click", () => {
  if (!picker.value) {
    said.textContent = "Paste the address of the picture picker first.";
    return;
  }
  state = crypto.randomUUID();
  opened = window.open(picker.value + "?state=" + state, "pictures", "popup,width=1000,height=720");
});

window.addEventListener("message", (event) => {
  if (event.source !== opened || event.origin !== new URL(picker.value).origin || event.data?.state !== state) return;
  if (event.data.type !== "satchel-picked") return;
  for (const p of event.data.pictures)
    block(
      `<figure><img src="${text(p.src)}" srcset="${text(p.srcset)}" sizes="(min-width: 760px) 720px, 100vw" width="${Number(p.width)}" ` +
        `height="${Number(p.height)}" alt="${text(p.alt)}" loading="lazy"></figure>`,
    );
  said.textContent = `Inserted ${event.data.pictures.length}.`;
});
