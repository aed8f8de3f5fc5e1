import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { mediaAddress, messageOf, type Selection } from "~/api/client";
import { useFolders, useMe } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice } from "~/kit/Field";
import { items, moment, plural } from "~/kit/words";
import { usePlace } from "~/sheet/place";
import { fileByDate, proposeShoots } from "./acts";
import { keeperOfYears, treeOf } from "./tree";

const gaps = [
  { value: 60, label: "an hour" },
  { value: 180, label: "3 hours" },
  { value: 360, label: "6 hours" },
  { value: 720, label: "12 hours" },
  { value: 2880, label: "2 days" },
];

/** ByDateDialog proposes folders by the gaps in the capture times; the names can be changed before anything moves. */
export function ByDateDialog({ brand, selection, onClose }: { brand: string; selection: Selection; onClose: () => void }) {
  const place = usePlace();
  const folders = useFolders(brand).data;
  const me = useMe().data;
  const tree = useMemo(() => treeOf(folders ?? []), [folders]);
  const [gap, setGap] = useState(360);
  const [chosen, setChosen] = useState<{ parent: number | undefined }>();
  const anywhere = me?.everywhere.includes("file");
  const possible = tree.all.filter((f) => f.may.includes("file"));
  const proposed = keeperOfYears(tree, place.place === "folder" ? place.id : undefined);
  const parent = chosen ? chosen.parent : (possible.find((f) => f.id === proposed)?.id ?? (anywhere ? undefined : possible[0]?.id));
  const joins = (s: { year: string }, name: string) => {
    const year = tree.inside(parent).find((f) => f.name === s.year);
    return year && tree.inside(year.id).find((f) => f.name.toLowerCase() === name.trim().toLowerCase());
  };
  const [names, setNames] = useState<Record<string, string>>({});
  const { data, error } = useQuery({
    queryKey: ["shoots", selection, gap],
    staleTime: 0,
    queryFn: () => proposeShoots(brand, selection, gap),
  });
  const nameOf = (s: { first: string; name: string }) => names[s.first] ?? s.name;
  const named = data?.shoots.filter((s) => nameOf(s).trim()) ?? [];
  const file = () => {
    onClose();
    void fileByDate(
      brand,
      selection,
      gap,
      parent,
      data!.shoots.map((s) => ({ first: s.first, items: s.items, name: nameOf(s).trim() })),
    );
  };
  return (
    <Dialog
      wide
      title="File by date"
      about="Each shoot goes into a folder of its day, inside one of its year. An empty name leaves its items where they are."
      onClose={onClose}
    >
      <div className="grid grid-cols-[1fr_12rem] gap-3 max-md:grid-cols-1">
        <Choice
          label="Where the years go"
          value={parent ?? 0}
          options={[
            ...(anywhere ? [{ value: 0, label: "Top level" }] : []),
            ...possible.map((f) => ({ value: f.id, label: tree.path(f.id) })),
          ]}
          onChange={(id) => setChosen({ parent: id || undefined })}
        />
        <Choice label="New shoot after a gap of" value={gap} options={gaps} onChange={setGap} />
      </div>
      {error && (
        <p role="alert" className="mt-3 text-tomato">
          {messageOf(error)}
        </p>
      )}
      {!data && !error && <p className="mt-3 text-ink-soft">Looking at the capture times…</p>}
      <ol className="mt-3 max-h-[46vh] space-y-2 overflow-y-auto" aria-label="Shoots">
        {data?.shoots.map((s) => (
          <li key={s.first} className="flex flex-wrap items-center gap-3 rounded-lg border border-line p-2">
            <span className="flex gap-0.5" aria-hidden="true">
              {s.sample.slice(0, 4).map((row) => (
                <img key={row.id} src={mediaAddress(brand, row, "small")} alt="" className="h-9 w-11 rounded-sm object-cover" />
              ))}
            </span>
            <label className="flex min-w-52 flex-1 items-center gap-1">
              <span className="text-ink-soft">{s.year} /</span>
              <input
                aria-label={`Folder for the shoot of ${moment(s.first)}`}
                className="min-w-0 flex-1 rounded-patch border border-line-strong bg-card px-2 py-1"
                value={nameOf(s)}
                maxLength={300}
                onChange={(e) => setNames({ ...names, [s.first]: e.target.value })}
              />
            </label>
            <span className="text-dense text-ink-soft" title={`${moment(s.first)} to ${moment(s.last)}`}>
              {items(s.items)}
              {joins(s, nameOf(s)) && `, joins ${items(joins(s, nameOf(s))!.own)} there`}
            </span>
          </li>
        ))}
      </ol>
      {!!data?.undated.length && (
        <p className="mt-2 text-ink-soft">
          {items(data.undated.length)} without a capture time {data.undated.length === 1 ? "stays" : "stay"} where{" "}
          {data.undated.length === 1 ? "it is" : "they are"}.
        </p>
      )}
      {data?.shoots.length === 0 && <p className="mt-2 text-ink-soft">None of them has a capture time.</p>}
      <div className="mt-4">
        <Button tone="main" disabled={named.length === 0} onClick={file}>
          File {items(named.reduce((n, s) => n + s.items, 0))} into {plural(named.length, "folder")}
        </Button>
      </div>
    </Dialog>
  );
}
