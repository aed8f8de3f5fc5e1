import { CircleAlert, Info } from "lucide-react";
import { mediaAddress, type Schema } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { titleOf } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { CutFrame } from "./CutFrame";
import type { Mend, Page } from "./dispatching";

type Finding = Schema["DispatchFinding"];

const mendNames: Record<Mend["mend"], string> = {
  crop: "Cut it to fit",
  pad: "Add a border",
  leave_out: "Leave it out",
  shorten: "Shorten it",
  split: "Make several posts",
  trim: "Take its beginning",
};

/** mostSaid is how many findings are listed; of more it is said how many there are. */
const mostSaid = 40;

/** DispatchCheck says what the pages do not take, with its mends; and shows what is left of what is cut, for all pages at once. */
export function DispatchCheck({
  brand,
  pages,
  check,
  error,
  mendsOf,
  onMend,
}: {
  brand: string;
  pages: Page[];
  check: Schema["DispatchCheck"] | undefined;
  error: Error | null;
  mendsOf: (page: number) => Mend[];
  onMend: (mends: { page: number; mend: Mend }[]) => void;
}) {
  const all = check?.pages.flatMap((p) => p.findings.map((finding) => ({ page: p.page, finding }))) ?? [];
  all.sort((a, b) => Number(b.finding.hinders) - Number(a.finding.hinders));
  const mendable = all.filter((f) => f.finding.hinders && f.finding.mends.length > 0);
  const cuts = check?.pages.flatMap((p) => p.cuts.map((cut) => ({ page: p.page, cut }))) ?? [];
  const nameOf = (id: number) => pages.find((p) => p.id === id)?.name ?? "";
  return (
    <section aria-label="The check">
      <header className="mb-1 flex items-center gap-2">
        <h3 className="flex-1 text-base">The check</h3>
        {mendable.length > 1 && (
          <Button onClick={() => onMend(mendable.map(({ page, finding: f }) => ({ page, mend: { item: f.item, mend: f.mends[0]! } })))}>
            Mend all {mendable.length}
          </Button>
        )}
      </header>
      {error && (
        <p role="alert" className="text-tomato">
          {error.message}
        </p>
      )}
      <LeavingCheck check={check?.against} />
      <ul className="mt-1 space-y-1">
        {all.slice(0, mostSaid).map(({ page, finding: f }) => (
          <FindingRow
            key={`${page} ${f.item} ${f.what}`}
            brand={brand}
            finding={f}
            page={pages.length > 1 ? nameOf(page) : undefined}
            onMend={(m) => onMend([{ page, mend: { item: f.item, mend: m } }])}
          />
        ))}
      </ul>
      {all.length > mostSaid && <p className="mt-1 text-small text-ink-soft">and {all.length - mostSaid} more</p>}
      {cuts.length > 0 && (
        <div className="mt-3">
          <h4 className="mb-1 text-dense">Which part is kept</h4>
          <ul className="flex flex-wrap gap-3" aria-label="What is cut">
            {cuts.slice(0, mostSaid).map(({ page, cut }) => (
              <CutFrame
                key={`${page} ${cut.item}`}
                brand={brand}
                cut={cut}
                page={nameOf(page)}
                at={mendsOf(page).find((m) => m.item === cut.item)}
                onMove={(x, y) => onMend([{ page, mend: { item: cut.item, mend: "crop", x, y } }])}
              />
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

/** FindingRow is one thing that a page does not take, with its mends. */
function FindingRow({
  brand,
  finding: f,
  page,
  onMend,
}: {
  brand: string;
  finding: Finding;
  page: string | undefined;
  onMend: (mend: Mend["mend"]) => void;
}) {
  const row = useRow(f.item);
  if (f.item && !row) rows.want([f.item]);
  return (
    <li className="flex flex-wrap items-center gap-2 rounded-patch border border-line p-1.5" data-finding={f.what}>
      {row ? (
        <img src={mediaAddress(brand, row, "small")} alt="" className="h-9 w-12 rounded object-cover" />
      ) : f.hinders ? (
        <CircleAlert size={18} className="shrink-0 text-tomato" aria-hidden="true" />
      ) : (
        <Info size={18} className="shrink-0 text-ink-soft" aria-hidden="true" />
      )}
      <span className={`min-w-40 flex-1 text-dense ${f.hinders ? "" : "text-ink-soft"}`}>
        {row && <span className="font-medium">{titleOf(row)}: </span>}
        {page && `${page}: `}
        {f.said}
      </span>
      {f.mends.map((m) => (
        <Button key={m} onClick={() => onMend(m)}>
          {mendNames[m]}
        </Button>
      ))}
    </li>
  );
}
