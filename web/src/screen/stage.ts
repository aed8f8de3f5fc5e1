import { focalPosition } from "~/kit/focal";
import { tint } from "~/kit/words";
import { drift, filled, isOn, next, type Item, type OnScreen } from "./playing";

/** Stage shows what a screen was told: a code, or one item after the other. There are never more than two pictures on it, nothing moves but
 * from one to the next, and all of it is moved by some pixels every minute, so that nothing burns in and nothing gets hot. */
export class Stage {
  private told: OnScreen | undefined;
  private place = 0;
  private present: Item | undefined;
  private aim: string | undefined; // the code of what is shown, or is about to be
  private turn = 0; // whatever is made ready in an earlier one comes too late
  private timer: ReturnType<typeof setTimeout> | undefined;
  private later = 0; // the clock of the server minus the one here, in milliseconds
  private frame: HTMLElement | undefined;

  /** Called whenever another item is shown. */
  changed: () => void = () => undefined;

  constructor(private root: HTMLElement) {
    setInterval(() => this.everyMinute(), 60_000);
    setInterval(() => this.byTheHours(), 5_000);
    window.addEventListener("resize", () => {
      this.fit();
      this.changed();
    });
    root.addEventListener("dblclick", () => void document.documentElement.requestFullscreen?.().catch(() => undefined));
    document.addEventListener("keydown", (e) => {
      if (e.key === "f") void document.documentElement.requestFullscreen?.().catch(() => undefined);
    });
    void this.stayAwake();
  }

  /** said is what the screen says of itself. */
  said() {
    return {
      width: Math.round(window.innerWidth * devicePixelRatio),
      height: Math.round(window.innerHeight * devicePixelRatio),
      showing: this.present?.code,
    };
  }

  show(told: OnScreen) {
    const before = this.told;
    this.told = told;
    this.hours(told);
    this.root.dataset.state = told.paired ? (told.state ?? "playing") : "pairing";
    if (!told.paired) return this.showCode(told.code ?? "");
    if (before?.state === "playing" && told.state === "paused") this.stay();
    const jump = before?.paired ? (told.jumps ?? 0) - (before.jumps ?? 0) : 0;
    const item = told.items?.find((i) => i.code === this.aim);
    const other = this.present?.code === item?.code && this.present?.picture !== item?.picture; // a new version of it
    const looks = before?.settings?.fit !== told.settings?.fit || before?.settings?.captions !== told.settings?.captions;
    if (this.dark()) this.clear();
    else if (jump !== 0) this.go(jump);
    else if (!item || !this.frame || other || looks) this.go(item ? 0 : 1);
    else this.wait();
  }

  /** hours takes over when the screen shows something, and the clock of the server. */
  hours(told: OnScreen) {
    if (told.now) this.later = Date.parse(told.now) - Date.now();
    if (this.told) this.told = { ...this.told, switches: told.switches };
  }

  reachable(yes: boolean) {
    this.root.dataset.network = yes ? "there" : "gone";
  }

  private dark() {
    return this.told?.state === "blank" || !isOn(this.told!, Date.now() + this.later);
  }

  private byTheHours() {
    if (!this.told?.paired) return;
    if (this.dark()) this.clear();
    else if (!this.frame) this.go(1);
  }

  private clear() {
    clearTimeout(this.timer);
    this.root.replaceChildren();
    this.frame = undefined;
    this.present = undefined;
    this.turn++;
  }

  private showCode(code: string) {
    this.clear();
    const text = (tag: string, words: string, name?: string) => {
      const e = document.createElement(tag);
      e.textContent = words;
      if (name) e.className = name;
      return e;
    };
    const card = document.createElement("div");
    card.className = "pairing";
    card.append(
      text("p", "This screen is not paired yet."),
      text("p", `${code.slice(0, 3)} ${code.slice(3)}`, "code"),
      text("p", `In Bright Satchel, on Send out, open “Screens in the shop”, choose “Pair a screen” and type this code.`),
    );
    this.root.append(card);
  }

  private showNothing() {
    this.clear();
    const p = document.createElement("p");
    p.className = "nothing";
    p.textContent = this.told?.name ?? "";
    this.root.append(p);
  }

  /** go shows the item some places after the one that is shown, or is about to be; one that cannot be loaded is passed over. */
  private go(by: number, tries = 0) {
    clearTimeout(this.timer);
    const items = this.told?.items ?? [];
    this.place = by === 0 ? items.findIndex((i) => i.code === this.aim) : next(items, this.aim, this.place, by);
    const item = items[this.place];
    if (!item || tries > items.length) {
      this.showNothing();
      this.timer = setTimeout(() => this.go(1), 10_000);
      return;
    }
    this.aim = item.code;
    const turn = ++this.turn;
    const frame = this.build(item);
    const media = frame.querySelector<HTMLImageElement | HTMLVideoElement>("img, video")!;
    const ready = media instanceof HTMLVideoElement ? loaded(media) : media.decode();
    ready.then(
      () => turn === this.turn && !this.dark() && this.put(frame, item),
      () => {
        if (turn === this.turn) this.timer = setTimeout(() => this.go(by < 0 ? -1 : 1, tries + 1), 200);
      },
    );
  }

  /** stay has what is shown stay there, also where the next one is being made ready: whoever pauses means what they see. */
  private stay() {
    if (!this.frame || !this.present) return;
    this.turn++;
    this.aim = this.present.code;
    this.place = Math.max(0, this.told?.items?.findIndex((i) => i.code === this.aim) ?? 0);
  }

  private build(item: Item) {
    const frame = document.createElement("figure");
    frame.dataset.item = item.code;
    if (item.film) {
      const video = document.createElement("video");
      Object.assign(video, { src: item.film, muted: true, playsInline: true, preload: "auto", poster: item.picture });
      video.setAttribute("aria-label", item.alt);
      frame.append(video);
    } else {
      const img = document.createElement("img");
      Object.assign(img, { src: item.picture, alt: item.alt });
      frame.append(img);
    }
    if (item.caption) {
      const caption = document.createElement("figcaption");
      caption.dir = "auto";
      caption.textContent = item.caption;
      caption.className = this.place % 2 === 0 ? "left" : "right"; // not always in one place
      frame.append(caption);
    }
    frame.style.setProperty("background-color", tint(item.tint));
    return frame;
  }

  private put(frame: HTMLElement, item: Item) {
    const old = this.frame;
    const way = this.told?.settings?.transition ?? "none";
    this.present = item;
    this.frame = frame;
    this.changed();
    this.fit();
    [...this.root.children].forEach((e) => e !== old && e.remove());
    this.root.append(frame);
    const gone = () => old?.remove(); // and nothing else: by then yet another one may be shown
    const plain = way === "none" || !old || matchMedia("(prefers-reduced-motion: reduce)").matches;
    if (plain) gone();
    else {
      const from = way === "fade" ? { opacity: 0 } : { transform: "translateX(100%)" };
      const to = way === "fade" ? { opacity: 1 } : { transform: "translateX(0)" };
      frame.animate([from, to], { duration: 700, easing: "ease-in-out" }).finished.then(gone, gone);
    }
    const video = frame.querySelector("video");
    if (video && this.told?.state === "playing") void video.play().catch(() => undefined);
    this.wait();
  }

  /** wait has the next one come when the time of the present one is over. */
  private wait() {
    clearTimeout(this.timer);
    const video = this.frame?.querySelector("video");
    if (this.told?.state === "paused") return video?.pause();
    const alone = (this.told?.items?.length ?? 0) < 2;
    const seconds = this.told?.settings?.seconds ?? 12;
    if (!video) {
      if (!alone) this.timer = setTimeout(() => this.go(1), seconds * 1000);
      return;
    }
    void video.play().catch(() => undefined);
    video.loop = alone;
    video.onended = () => this.go(1);
    // A film that stands still is not waited for for ever.
    this.timer = setTimeout(
      () => !alone && this.go(1),
      ((Number.isFinite(video.duration) ? video.duration - video.currentTime : seconds) + 5) * 1000,
    );
  }

  /** fit cuts the present item around its focal point, or shows all of it, as the screen is held now. */
  private fit() {
    const media = this.frame?.querySelector<HTMLElement>("img, video");
    const item = this.present;
    if (!media || !item) return;
    const screen = { width: window.innerWidth, height: window.innerHeight };
    const fill = filled(item, screen, this.told?.settings?.fit ?? "fill");
    media.style.setProperty("object-fit", fill ? "cover" : "contain");
    media.style.setProperty("object-position", fill ? focalPosition(screen, item, { x: item.focalX, y: item.focalY }) : "50% 50%");
    this.root.dataset.fit = fill ? "fill" : "whole";
  }

  private everyMinute() {
    const by = drift(Math.floor(Date.now() / 60_000));
    this.root.style.setProperty("transform", `translate(${by.x}px, ${by.y}px)`);
  }

  /** stayAwake keeps the screen from being switched off while it is looked at, where the browser lets it. */
  private async stayAwake() {
    const lock = () => navigator.wakeLock?.request("screen").catch(() => undefined);
    await lock();
    document.addEventListener("visibilitychange", () => void (document.visibilityState === "visible" && lock()));
  }
}

/** loaded waits until a film can be played. */
const loaded = (video: HTMLVideoElement) =>
  new Promise<void>((yes, no) => {
    video.oncanplay = () => yes();
    video.onerror = () => no(new Error("the film cannot be played"));
  });
