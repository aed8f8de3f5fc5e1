import { CircleAlert, Info, RefreshCw } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { mediaAddress, messageOf, type Schema, type Selection } from "~/api/client";
import { useDispatchCheck, usePages } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextArea, TextField } from "~/kit/Field";
import { items, plural, titleOf } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { refreshPages, sendDispatch } from "./acts";

type Page = Schema["Page"];
type Finding = Schema["DispatchFinding"];
type Mend = Schema["Mend"];

const mendNames: Record<Mend["mend"], string> = {
  crop: "Cut it to fit",
  pad: "Add a border",
  leave_out: "Leave it out",
  shorten: "Shorten it",
};

/** DispatchDialog sends items to pages: where, with which words, when; what a page does not take is mended before "go". */
export function DispatchDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}) {
  const pages = usePages(brand).data;
  const [chosen, setChosen] = useState<number[]>([]);
  const [caption, setCaption] = useState("");
  const [mends, setMends] = useState<Record<number, Mend[]>>({});
  const [when, setWhen] = useState<"now" | "at">("now");
  const [moment, setMoment] = useState("");
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  useEffect(() => void refreshPages(brand), [brand]);
  const wanted = useMemo<Schema["NewDispatch"]>(
    () => ({ selection, caption, pages: chosen.map((page) => ({ page, mends: mends[page] ?? [] })) }),
    [selection, caption, chosen, mends],
  );
  const checked = useDispatchCheck(brand, useLater(wanted, 250), chosen.length > 0);
  const check = checked.data;
  const toggle = (page: number) => setChosen(chosen.includes(page) ? chosen.filter((p) => p !== page) : [...chosen, page]);
  const mend = (page: number, all: Mend[]) =>
    setMends((before) => {
      const kept = (before[page] ?? []).filter((m) => !all.some((n) => n.item === m.item));
      return { ...before, [page]: [...kept, ...all] };
    });
  const open = check?.pages.flatMap((p) => p.findings.filter((f) => f.hinders)) ?? [];
  const mendable = open.filter((f) => f.mends.length > 0);
  const mendAll = () => {
    for (const p of check!.pages)
      mend(
        p.page,
        p.findings.filter((f) => f.hinders && f.mends[0]).map((f) => ({ item: f.item, mend: f.mends[0]! })),
      );
  };
  const go = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      const due = when === "at" ? new Date(moment) : undefined;
      if (due && Number.isNaN(due.getTime())) throw new Error("Choose the day and the time.");
      await sendDispatch(brand, { ...wanted, zone, ...(due ? { due: due.toISOString() } : {}) });
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  const to = pages?.filter((p) => chosen.includes(p.id)) ?? [];
  return (
    <Dialog wide title={`Send ${items(count)} to pages`} about="Nothing leaves before you press the last button." onClose={onClose}>
      <div className="space-y-4" data-dispatch>
        <section aria-label="Where">
          <header className="mb-1 flex items-center gap-2">
            <h3 className="flex-1 text-base">Where</h3>
            <Button tone="quiet" icon={<RefreshCw size={16} />} onClick={() => void refreshPages(brand)}>
              Ask the outlets again
            </Button>
          </header>
          {pages?.length === 0 && (
            <p className="text-ink-soft">No page is connected. A steward connects an account under Outlets, on Send out.</p>
          )}
          <ul className="space-y-1">
            {pages?.map((p) => (
              <li key={p.id} data-page-choice={p.remote}>
                <label className="flex gap-2 rounded-patch border border-line p-2 has-checked:border-saffron has-checked:bg-saffron-wash">
                  <input type="checkbox" className="mt-1 accent-sea" checked={chosen.includes(p.id)} onChange={() => toggle(p.id)} />
                  <span>
                    <span className="block font-medium">{p.name}</span>
                    <span className="block text-small text-plum">Seen by {p.audience}</span>
                  </span>
                </label>
              </li>
            ))}
          </ul>
        </section>
        <div>
          <TextArea label="Caption" rows={3} value={caption} onChange={(e) => setCaption(e.target.value)} />
          {check && <p className="text-small text-ink-soft">{check.pages.map((p) => said(pages, p.page, p.count)).join(" · ")}</p>}
        </div>
        {chosen.length > 0 && (
          <section aria-label="The check">
            <header className="mb-1 flex items-center gap-2">
              <h3 className="flex-1 text-base">The check</h3>
              {mendable.length > 1 && <Button onClick={mendAll}>Mend all {mendable.length}</Button>}
            </header>
            {checked.error && (
              <p role="alert" className="text-tomato">
                {checked.error.message}
              </p>
            )}
            <LeavingCheck check={check?.against} />
            <ul className="mt-1 space-y-1">
              {check?.pages.flatMap((p) =>
                p.findings.map((f) => (
                  <FindingRow
                    key={`${p.page} ${f.item} ${f.what}`}
                    brand={brand}
                    finding={f}
                    page={to.length > 1 ? to.find((t) => t.id === p.page)?.name : undefined}
                    onMend={(m) => mend(p.page, [{ item: f.item, mend: m }])}
                  />
                )),
              )}
            </ul>
          </section>
        )}
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-48">
            <Choice
              label="When"
              value={when}
              options={[
                { value: "now", label: "now" },
                { value: "at", label: "at a moment" },
              ]}
              onChange={setWhen}
            />
          </div>
          {when === "at" && (
            <div className="w-64">
              <TextField
                label={`Day and time (${zone})`}
                type="datetime-local"
                value={moment}
                onChange={(e) => setMoment(e.target.value)}
              />
            </div>
          )}
        </div>
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3">
          <Button tone="strap" disabled={busy || chosen.length === 0 || open.length > 0} onClick={() => void go()}>
            {when === "now" ? "Send" : "Plan"} {count.toLocaleString("en-GB")} to {plural(Math.max(1, chosen.length), "page")}
          </Button>
          <p className="min-w-48 flex-1 text-small text-plum">
            {to.length > 0 ? `Seen by ${to.map((p) => p.audience).join("; ")}.` : "Choose at least one page."}
            {open.length > 0 && ` ${plural(open.length, "thing")} to mend first.`}
          </p>
        </div>
      </div>
    </Dialog>
  );
}

/** said tells how long a caption is for a page. */
function said(pages: Page[] | undefined, id: number, count: number) {
  const page = pages?.find((p) => p.id === id);
  return page?.caption ? `${count} of ${page.caption} on ${page.name}` : `${count} on ${page?.name ?? ""}`;
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

/** useLater is a value once it has not changed for some milliseconds. */
function useLater<T>(value: T, ms: number): T {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return later;
}
