import { openBig } from "./big";
import { make, pictureOf, type Shown } from "./picture";
import { style } from "./style";

/** How long, in milliseconds, what is shown is taken for what there is. */
const fresh = 60_000;
let sheet: CSSStyleSheet | undefined;

/** home is the server that the script came from; in the library itself it is the page's own. */
const home = new URL((document.currentScript as HTMLScriptElement | null)?.src ?? location.href).origin;

/**
 * SatchelPictures shows an embed in a page: `<satchel-pictures code="…">`. What is in it stands there until the pictures do, and without
 * script. It sets no cookies and keeps nothing.
 */
export class SatchelPictures extends HTMLElement {
  #text = "";
  #timer = 0;
  #looked = 0;

  connectedCallback() {
    if (!this.getAttribute("code")) return; // it is shown something
    void this.#load();
    this.#timer = window.setInterval(this.#look, fresh);
    document.addEventListener("visibilitychange", this.#look);
  }

  disconnectedCallback() {
    clearInterval(this.#timer);
    document.removeEventListener("visibilitychange", this.#look);
  }

  #look = () => {
    if (document.visibilityState === "visible" && Date.now() - this.#looked >= fresh - 1000) void this.#load();
  };

  async #load() {
    this.#looked = Date.now();
    const at = location.origin === home ? "" : `?at=${encodeURIComponent(location.origin + location.pathname)}`;
    try {
      const answer = await fetch(`${home}/api/public/embeds/${encodeURIComponent(this.getAttribute("code")!)}${at}`, {
        credentials: "omit",
      });
      if (answer.ok) {
        const text = await answer.text();
        if (text !== this.#text) this.show(JSON.parse(text) as Shown);
        this.#text = text;
      } else if (answer.status === 404) {
        this.#inside().replaceChildren(); // it was switched off: nothing of it stays
        this.#text = "";
      }
    } catch {
      // the server does not answer: what stands there stays
    }
  }

  #inside() {
    const root = this.shadowRoot ?? this.attachShadow({ mode: "open" });
    if (!sheet) {
      sheet = new CSSStyleSheet();
      sheet.replaceSync(style);
    }
    root.adoptedStyleSheets = [sheet];
    return root;
  }

  /** show draws what an embed shows. */
  show(shown: Shown) {
    const root = this.#inside();
    const s = shown.settings;
    const list = make("ul");
    list.className = s.layout;
    const set = (name: string, value: string) => list.style.setProperty(name, value);
    set("--gap", `${s.gap}px`);
    set("--corner", `${s.corner}px`);
    set("--height", `${s.height}px`);
    set("--columns", String(s.columns));
    this.style.setProperty("--satchel-background", s.background || "transparent");
    this.style.setProperty("--satchel-text", s.text || "inherit");
    const language = this.closest("[lang]")?.getAttribute("lang") ?? navigator.language;
    shown.pictures.forEach((p, i) => {
      const item = make("li");
      const figure = make("figure");
      item.style.setProperty("--shape", String(p.width / p.height));
      const picture = pictureOf(p, `auto, ${sizeOf(shown, p.width / p.height)}`, true);
      let holder: HTMLElement = figure;
      if (s.click === "big_view" || (p.film && s.click !== "to_page")) {
        const button = make("button");
        button.type = "button";
        button.className = p.film ? "clip" : "";
        button.addEventListener("click", () => openBig(root, shown, i, language));
        holder = button;
      } else if (s.click === "to_page") {
        const link = make("a");
        link.className = "to";
        link.href = s.link;
        holder = link;
      }
      if (holder !== figure) {
        if (!p.alt) holder.setAttribute("aria-label", `${i + 1} / ${shown.pictures.length}`);
        figure.append(holder);
      }
      holder.append(picture);
      if (p.caption) {
        const caption = make("figcaption");
        caption.textContent = p.caption;
        figure.append(caption);
      }
      item.append(figure);
      list.append(item);
    });
    if (s.layout === "rows") {
      const rest = make("li"); // keeps the last row as high as the others
      rest.className = "rest";
      rest.setAttribute("aria-hidden", "true");
      list.append(rest);
    }
    root.replaceChildren(list);
  }
}

/** sizeOf says about how wide a picture is shown, for browsers that do not find out by themselves. */
function sizeOf({ settings: s }: Shown, shape: number) {
  if (s.layout === "rows" || s.layout === "strip") return `${Math.round(shape * s.height * 1.2)}px`;
  return s.layout === "single" ? "100vw" : `(min-width: 700px) ${Math.round(100 / s.columns)}vw, 50vw`;
}

if (!customElements.get("satchel-pictures")) customElements.define("satchel-pictures", SatchelPictures);
