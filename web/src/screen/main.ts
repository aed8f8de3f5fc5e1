import "./screen.css";
import { ask } from "./asking";
import { Stage } from "./stage";
import { keep, kept, keepPage } from "./keeping";
import type { OnScreen } from "./playing";

/** A screen in a shop: it shows a code until somebody pairs it, then an album, and asks for changes all the time. Without a network it
 * goes on with what it has. */
const lastShow = "screen-show";
const stage = new Stage(document.getElementById("screen")!);

/** news has the server told at once what the screen shows and stores, at most every few seconds. */
let waiting: AbortController | undefined;
let told = 0;
function news() {
  if (!waiting || Date.now() - told < 3000) return;
  told = Date.now();
  waiting.abort();
}

async function run() {
  await navigator.serviceWorker?.register("/screen/keeper.js", { scope: "/screen" }).catch(() => undefined);
  let show = remembered();
  if (show) stage.show(show);
  stage.changed = news;
  for (;;) {
    waiting = new AbortController();
    try {
      const now = await ask({ known: show?.known, ...stage.said(), kept: await kept(show) }, waiting.signal);
      if (now.known !== show?.known) {
        show = now;
        localStorage.setItem(lastShow, JSON.stringify(now));
        stage.show(now);
      } else stage.hours(now);
      stage.reachable(true);
      await keep(now, news);
      await keepPage();
    } catch {
      if (waiting.signal.aborted) continue;
      stage.reachable(false);
      await new Promise((done) => setTimeout(done, 2000));
    }
  }
}

function remembered(): OnScreen | undefined {
  try {
    return JSON.parse(localStorage.getItem(lastShow) ?? "") as OnScreen;
  } catch {
    return undefined; // it has shown nothing yet
  }
}

void run();
