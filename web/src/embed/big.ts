import { make, pictureOf, type Shown } from "./picture";
import { wordsFor } from "./words";

/** openBig shows one picture after the other as large as the window: by keys, presses and swipes. */
export function openBig(root: ShadowRoot, shown: Shown, first: number, language: string) {
  const words = wordsFor(language);
  const dialog = make("dialog");
  const figure = make("figure");
  const where = make("span");
  where.setAttribute("aria-live", "polite");
  let at = first;
  const show = (to: number) => {
    at = (to + shown.pictures.length) % shown.pictures.length;
    const picture = shown.pictures[at]!;
    let seen: HTMLElement;
    if (picture.film) {
      const film = make("video");
      Object.assign(film, { src: picture.film, controls: true, autoplay: true, playsInline: true });
      film.setAttribute("aria-label", picture.alt);
      seen = film;
    } else seen = pictureOf(picture, "100vw", false);
    figure.replaceChildren(seen);
    if (picture.caption) {
      const caption = make("figcaption");
      caption.textContent = picture.caption;
      figure.append(caption);
    }
    where.textContent = `${at + 1} / ${shown.pictures.length}`;
  };
  const button = (label: string, sign: string, press: () => void) => {
    const b = make("button");
    b.type = "button";
    b.textContent = sign;
    b.setAttribute("aria-label", label);
    b.title = label;
    b.addEventListener("click", press);
    return b;
  };
  const bar = make("nav");
  bar.append(where);
  if (shown.pictures.length > 1)
    bar.append(
      button(words.previous, "←", () => show(at - 1)),
      button(words.next, "→", () => show(at + 1)),
    );
  bar.append(button(words.close, words.close, () => dialog.close()));
  dialog.append(figure, bar);
  dialog.setAttribute("aria-label", shown.name);
  dialog.addEventListener("keydown", (e) => {
    if (e.key === "ArrowRight") show(at + 1);
    else if (e.key === "ArrowLeft") show(at - 1);
  });
  let from: number | undefined;
  figure.addEventListener("pointerdown", (e) => (from = e.pointerType === "mouse" ? undefined : e.clientX));
  figure.addEventListener("pointerup", (e) => {
    if (from !== undefined && Math.abs(e.clientX - from) > 40) show(at + (e.clientX < from ? 1 : -1));
  });
  figure.addEventListener("click", (e) => {
    if (e.target === figure) dialog.close();
  });
  dialog.addEventListener("close", () => dialog.remove());
  root.append(dialog);
  show(first);
  dialog.showModal();
}
