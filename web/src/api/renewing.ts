/** How long, in milliseconds, there is between two loads of one list while changes go on: where it is seen, and where nobody sees it. */
const pause = 1000;
const unseen = 15_000;

/** Renewing says when what is shown is loaded again. A change shows at once; of those that follow quickly, as while files arrive, all are
 * shown together after a pause, and a page in the background waits longer. */
export class Renewing {
  private last = new Map<string, number>();
  private waiting = new Map<string, number>();

  constructor(
    private load: (key: string) => void,
    private seen: () => boolean = () => !document.hidden,
    private now: () => number = () => performance.now(),
  ) {}

  /** renew has a list loaded, now or soon. */
  renew(key: string) {
    if (this.waiting.has(key)) return;
    const wait = (this.last.get(key) ?? -Infinity) + (this.seen() ? pause : unseen) - this.now();
    if (wait <= 0) this.go(key);
    else
      this.waiting.set(
        key,
        window.setTimeout(() => this.go(key), wait),
      );
  }

  /** hurry shows at once what waits and what comes next: somebody did something, or looks at the page again. */
  hurry() {
    this.last.clear();
    for (const key of [...this.waiting.keys()]) this.go(key);
  }

  private go(key: string) {
    window.clearTimeout(this.waiting.get(key));
    this.waiting.delete(key);
    this.last.set(key, this.now());
    this.load(key);
  }
}
