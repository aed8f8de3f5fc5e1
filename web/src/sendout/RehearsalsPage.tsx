import { Link } from "@tanstack/react-router";
import { MoreHorizontal } from "lucide-react";
import { mediaAddress, type Me, type Schema } from "~/api/client";
import { useRehearsals } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { plural, when } from "~/kit/words";
import { removeRehearsal } from "./acts";
import { placeItems, ThingsBar, useThings, WhereItIs } from "./Things";

type Row = Schema["RehearsalRow"];

/** RehearsalsPage lists the posts and advertisements that are tried out. */
export function RehearsalsPage({ me }: { me: Me }) {
  const brand = me.brand;
  const { data: all, error } = useRehearsals(brand);
  const may = me.can.includes("galleries");
  const things = useThings(brand, "rehearsal", all, (r: Row) => r.name);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="rehearsals">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Rehearsals</h1>
        <Link to="/b/$brand/dispatches" params={{ brand }} className="text-sea underline">
          Dispatches
        </Link>
      </div>
      <ThingsBar brand={brand} things={things} what="rehearsals" />
      <div className="page-column">
        {error && <p className="text-tomato">{error.message}</p>}
        {!all && !error && <p className="text-ink-soft">Loading…</p>}
        {all?.length === 0 && (
          <p className="max-w-prose text-ink-soft">
            See pictures with their words as a post or an advertisement before it exists, in several variants, and hear what colleagues say.
            {may && " Select the pictures in the library and choose “Try it out as a post…”, under More."}
          </p>
        )}
        {all && all.length > 0 && things.shown.length === 0 && <p className="text-ink-soft">None here.</p>}
        <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3" aria-label="Rehearsals">
          {things.shown.map((r) => (
            <li key={r.id} className="flex gap-3 rounded-xl border border-line bg-card p-3" data-rehearsal={r.name}>
              <Cover brand={brand} id={r.cover} />
              <span className="min-w-0 flex-1">
                <Link
                  to="/b/$brand/rehearsals/$id"
                  params={{ brand, id: String(r.id) }}
                  className="block font-medium break-words text-sea underline"
                >
                  {r.name}
                </Link>
                <span className="block text-small text-ink-soft">
                  {plural(r.variants, "variant")}, {plural(r.remarks, "remark")}
                </span>
                <span className="block text-small text-ink-soft">
                  changed {when(r.changed)}
                  {r.by && `, by ${r.by}`}
                </span>
                {r.sent > 0 && (
                  <span className="block text-small text-plum">{r.sent === 1 ? "1 dispatch" : `${r.sent} dispatches`} from it</span>
                )}
                <WhereItIs things={things} id={r.id} />
              </span>
              {may && (
                <Menu
                  trigger={<IconButton label={`More about ${r.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
                  items={[
                    ...placeItems(brand, things, r.id),
                    null,
                    { label: "Remove the rehearsal", danger: true, onSelect: () => void removeRehearsal(brand, r.id) },
                  ]}
                />
              )}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

function Cover({ brand, id }: { brand: string; id: number | undefined }) {
  const row = useRow(id ?? 0);
  if (id && !row) rows.want([id]);
  return row ? (
    <img src={mediaAddress(brand, row, "small")} alt="" className="h-16 w-20 shrink-0 rounded object-cover" />
  ) : (
    <span className="h-16 w-20 shrink-0 rounded bg-sunk" />
  );
}
