import { Link } from "@tanstack/react-router";
import { ExternalLink } from "lucide-react";
import { useState } from "react";
import { mediaAddress, type Schema } from "~/api/client";
import { useDispatches, usePages } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { clockIn, exactly, items, plural, when } from "~/kit/words";
import { albumOf, changeDispatch, changePost } from "./acts";
import { DispatchDialog } from "./DispatchDialog";
import { Drafts } from "./Drafts";
import { audience, type Page } from "./dispatching";
import { SeenThere } from "./SeenThere";

type Dispatch = Schema["Dispatch"];
type Post = Schema["DispatchPost"];

/** DispatchesPage lists what was sent to pages and what is planned, the newest first, with what came of each. */
export function DispatchesPage({ brand }: { brand: string }) {
  const [before, setBefore] = useState<number>();
  const { data: all, error } = useDispatches(brand, before);
  const pages = usePages(brand).data ?? [];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="dispatches">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Dispatches</h1>
        <Link to="/b/$brand/calendar" params={{ brand }} className="text-sea underline">
          Calendar
        </Link>
        <Link to="/b/$brand/outlets" params={{ brand }} search={{}} className="text-sea underline">
          Outlets
        </Link>
      </div>
      <div className="space-y-4 page-column">
        {error && <p className="text-tomato">{error.message}</p>}
        {!all && !error && <p className="text-ink-soft">Loading…</p>}
        {all?.length === 0 && before === undefined && (
          <p className="text-ink-soft">
            Nothing was sent to a page yet. Select items in the library and choose “Send to pages…”, under More.
          </p>
        )}
        {before === undefined && <Drafts brand={brand} pages={pages} />}
        {sorted(all ?? []).map(([name, list]) => (
          <section key={name} aria-label={name} className="space-y-4">
            <h2 className="text-base text-ink-soft">
              {name} <span className="tabular-nums">{list.length}</span>
            </h2>
            {list.map((d) => (
              <OneDispatch key={d.id} brand={brand} dispatch={d} pages={pages} />
            ))}
          </section>
        ))}
        <div className="flex gap-2">
          {before !== undefined && <Button onClick={() => setBefore(undefined)}>The newest</Button>}
          {all?.length === 50 && <Button onClick={() => setBefore(all.at(-1)!.id)}>Older ones</Button>}
        </div>
      </div>
    </div>
  );
}

/** seenBy says who will see the posts of a dispatch. */
const seenBy = (posts: Post[], pages: Page[]) => audience(pages.filter((g) => posts.some((p) => p.page === g.name)));

function OneDispatch({ brand, dispatch: d, pages }: { brand: string; dispatch: Dispatch; pages: Page[] }) {
  const planned = new Date(d.due) > new Date();
  const act = (what: Parameters<typeof changeDispatch>[2]) => void changeDispatch(brand, d.id, what);
  const waiting = d.posts.filter((p) => p.phase === "planned" || p.phase === "preparing").length;
  const out = d.posts.filter((p) => p.phase === "out" && !p.withdrawn && p.takesBack).length;
  return (
    <section aria-label={`Dispatch of ${exactly(d.created)}`} className="rounded-xl border border-line bg-card p-4" data-dispatch={d.id}>
      <header className="flex flex-wrap items-start gap-2">
        <div className="min-w-56 flex-1">
          <h3 className="text-base">
            {items(d.items)} {d.posts.length === 1 ? `to ${d.posts[0]!.page}` : `in ${plural(d.posts.length, "post")}`}
          </h3>
          <p className="text-small text-ink-soft">
            {[!planned && when(d.due), d.origin ? `fed by ${d.origin}` : d.by && `by ${d.by}`, d.goBy && `${d.goBy} said “go”`]
              .filter(Boolean)
              .join(", ")}
          </p>
        </div>
        {d.held && waiting > 0 && <Button onClick={() => act("carry_on")}>Carry on</Button>}
        {!d.held && !d.waits && waiting > 0 && (
          <Button tone="quiet" onClick={() => act("hold")}>
            Hold
          </Button>
        )}
        {waiting > 1 && <Button onClick={() => act("cancel")}>Cancel all {waiting}</Button>}
        {out > 1 && (
          <Button tone="quiet" onClick={() => act("withdraw")}>
            Take all {out} back
          </Button>
        )}
      </header>
      {d.waits && (
        <div className="mt-2 flex flex-wrap items-center gap-3 rounded-patch bg-saffron-wash p-2" data-waits>
          <p className="min-w-56 flex-1">
            {d.mine
              ? "It waits until somebody else has looked at it and says “go”."
              : `${d.by ?? "Somebody"} asks you to look at it and say “go”. ${seenBy(d.posts, pages)}`}
          </p>
          {!d.mine && (
            <Button tone="strap" onClick={() => act("go")}>
              Go: {d.items} to {plural(new Set(d.posts.map((p) => p.page)).size, "page")}
            </Button>
          )}
        </div>
      )}
      {d.held && waiting > 0 && <p className="mt-1 text-small text-tomato">Held: nothing of it leaves until somebody lets it carry on.</p>}
      <ul className="mt-2 space-y-2">
        {d.posts.map((p) => (
          <PostRow key={p.id} brand={brand} post={p} dispatch={d} />
        ))}
      </ul>
    </section>
  );
}

const underWay = new Set<Post["phase"]>(["preparing", "placing", "settling"]);

/** standing says how a post stands. */
export function standing(p: Post, d: Pick<Dispatch, "waits" | "held" | "due">): string {
  if (p.withdrawn) return "Taken back";
  switch (p.phase) {
    case "planned":
      if (d.waits) return `Waits for somebody’s “go”, for ${clockIn(p.wall, p.zone)}`;
      if (d.held) return `Held, for ${clockIn(p.wall, p.zone)}`;
      return new Date(d.due) <= new Date() ? "Goes out now" : `Planned for ${clockIn(p.wall, p.zone)}`;
    case "preparing":
      return `Being brought there: ${p.brought} of ${p.items.length}`;
    case "placing":
      return "Being posted";
    case "settling":
      return "Looking whether it is out there";
    case "unsure":
      return "Nobody can tell whether it is out there. Look at the page, and say.";
    case "out":
      return "Out there";
    case "refused":
      return `Not sent. ${p.why}`;
    case "cancelled":
      return "Cancelled";
  }
}

function tone(p: Post) {
  if (p.phase === "refused" || p.phase === "unsure") return "text-tomato";
  return p.phase === "out" && !p.withdrawn ? "text-plum" : "text-ink-soft";
}

/** needsSomebody says whether a dispatch goes no further by itself. */
const needsSomebody = (d: Dispatch) => d.waits || d.held || d.posts.some((p) => p.phase === "refused" || p.phase === "unsure");
const toCome = (d: Dispatch) => d.posts.some((p) => p.phase === "planned" || underWay.has(p.phase));

/** sorted puts dispatches under what stands out about them: first those that need somebody, then those that are to come. */
function sorted(all: Dispatch[]): [string, Dispatch[]][] {
  const groups: [string, Dispatch[]][] = [
    ["Needs somebody", all.filter(needsSomebody)],
    ["To come", all.filter((d) => !needsSomebody(d) && toCome(d))],
    ["Done", all.filter((d) => !needsSomebody(d) && !toCome(d))],
  ];
  return groups.filter(([, list]) => list.length > 0);
}

function PostRow({ brand, post: p, dispatch }: { brand: string; post: Post; dispatch: Dispatch }) {
  const act = (what: Parameters<typeof changePost>[2]) => void changePost(brand, p.id, what);
  const [onward, setOnward] = useState(false);
  return (
    <li className="flex flex-wrap items-center gap-2 border-t border-line pt-2" data-post={p.phase}>
      <span className="flex gap-1">
        {p.items.slice(0, 4).map((id) => (
          <Thumb key={id} brand={brand} id={id} />
        ))}
      </span>
      <span className="min-w-48 flex-1">
        <span aria-live="polite" className={`block font-medium ${tone(p)}`} data-standing>
          {standing(p, dispatch)}
        </span>
        <span className="block text-small">on {p.page}</span>
        {p.caption && <span className="block truncate text-small text-ink-soft">{p.caption}</span>}
        {p.album && <span className="block truncate text-small text-ink-soft">Album there: {p.album}</span>}
      </span>
      {p.phase === "out" && p.address && !p.withdrawn && (
        <a href={p.address} target="_blank" rel="noreferrer" className="inline-flex items-center gap-1 text-plum underline">
          <ExternalLink size={16} aria-hidden="true" /> See it there
        </a>
      )}
      {(p.phase === "planned" || p.phase === "preparing") && <Button onClick={() => act("cancel")}>Cancel</Button>}
      {p.phase === "refused" && <Button onClick={() => act("again")}>Try again</Button>}
      {p.phase === "unsure" && (
        <>
          <Button onClick={() => act("there")}>It is there</Button>
          <Button onClick={() => act("not_there")}>It is not, send again</Button>
        </>
      )}
      {p.phase === "out" && !p.withdrawn && p.takesBack && (
        <Button tone="quiet" onClick={() => act("withdraw")}>
          Take it back
        </Button>
      )}
      {p.items.length > 0 && (
        <Button tone="quiet" onClick={() => setOnward(true)}>
          Send to other pages…
        </Button>
      )}
      {p.items.length > 1 && (
        <Button tone="quiet" onClick={() => void albumOf(brand, p)}>
          Make an album of it
        </Button>
      )}
      {p.seen && p.phase === "out" && !p.withdrawn && <SeenThere brand={brand} seen={p.seen} onLook={() => act("look")} />}
      {onward && (
        <DispatchDialog
          brand={brand}
          selection={{ ids: p.items }}
          count={p.items.length}
          caption={p.caption}
          from={p.phase === "out" && p.takesBack && !p.withdrawn ? { id: p.id, page: p.page } : undefined}
          onClose={() => setOnward(false)}
        />
      )}
      {underWay.has(p.phase) && <span className="sr-only">under way</span>}
    </li>
  );
}

function Thumb({ brand, id }: { brand: string; id: number }) {
  const row = useRow(id);
  if (!row) rows.want([id]);
  return row ? (
    <img src={mediaAddress(brand, row, "small")} alt="" className="h-10 w-14 rounded object-cover" data-thumb={id} />
  ) : (
    <span className="h-10 w-14" data-thumb={id} />
  );
}
