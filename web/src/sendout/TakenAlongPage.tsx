import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useTakenAlong } from "~/api/queries";
import { Button } from "~/kit/Button";
import { bytes, exactly, plural, when } from "~/kit/words";

/** TakenAlongPage lists what anybody took along: what, where to, by whom and when, the newest first. */
export function TakenAlongPage({ brand }: { brand: string }) {
  const [pages, setPages] = useState<(number | undefined)[]>([undefined]);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="taken-along">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Taken along</h1>
        <Link to="/b/$brand/$step" params={{ brand, step: "send-out" }} search={{ place: "everything" }} className="text-sea underline">
          Take something along
        </Link>
      </div>
      <div className="page-column">
        {pages.map((before, i) => (
          <Page
            key={before ?? "newest"}
            brand={brand}
            before={before}
            first={i === 0}
            last={i === pages.length - 1}
            onMore={(id) => setPages([...pages, id])}
          />
        ))}
      </div>
    </div>
  );
}

const perPage = 20;

function Page(p: { brand: string; before: number | undefined; first: boolean; last: boolean; onMore: (before: number) => void }) {
  const { data, error } = useTakenAlong(p.brand, p.before);
  if (error) return <p className="text-tomato">{error.message}</p>;
  if (!data) return <p className="text-ink-soft">Loading…</p>;
  if (data.length === 0 && p.first)
    return (
      <p className="text-ink-soft">Nothing yet. What anybody takes along as a ZIP or puts into a folder on the server is listed here.</p>
    );
  return (
    <>
      <ul aria-label={p.first ? "Taken along" : "Taken along before"}>
        {data.map((t) => (
          <li key={t.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-line py-2" data-taken={t.state}>
            <span className="min-w-56 flex-1">
              <span className="block">{howMany(t)}</span>
              <span className="block text-dense text-ink-soft">
                {t.outputSizes.join(", ")}, {t.place ? `to “${t.place}” / ${t.path}` : "as a ZIP"}
              </span>
            </span>
            <span className="text-dense text-ink-soft">
              {t.by}, <time title={exactly(t.started)}>{when(t.started)}</time>
            </span>
          </li>
        ))}
      </ul>
      {p.last && data.length === perPage && (
        <Button className="mt-3" onClick={() => p.onMore(data.at(-1)!.id)}>
          Show earlier ones
        </Button>
      )}
    </>
  );
}

/** howMany says how many files came of it. */
function howMany(t: Schema["TakenAlong"]) {
  const size = t.bytes ? `, ${bytes(t.bytes)}` : "";
  if (t.state === "making") return `${plural(t.total, "file")}, being made`;
  if (t.state === "stopped") return `${t.made} of ${plural(t.total, "file")}, then stopped${size}`;
  return `${plural(t.made, "file")}${size}${t.failed > 0 ? `; ${t.failed} could not be made` : ""}`;
}
