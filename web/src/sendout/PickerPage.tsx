import { useQuery } from "@tanstack/react-query";
import { clsx } from "clsx";
import { BookImage, Folder as FolderIcon, Images } from "lucide-react";
import { useMemo, useState } from "react";
import { mediaAddress, messageOf, type Schema, type SheetQuery } from "~/api/client";
import { useAlbums, useFolders, type Folder } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { useSheet } from "~/api/sheets";
import { Button } from "~/kit/Button";
import { Tips } from "~/kit/IconButton";
import { Choice, TextField } from "~/kit/Field";
import { Mark } from "~/kit/Mark";
import { plural, titleOf } from "~/kit/words";
import { makePublic, openPicker } from "./acts";
import { handOver, sizes, type Chosen, type Size } from "./picked";

const shownAtFirst = 60;
const none: Folder[] = [];

/** PickerPage is the window in which an editor of another website chooses pictures. What is chosen goes to that website and no other. */
export function PickerPage({ code, state }: { code: string; state?: string }) {
  const { data: site, error } = useQuery({ queryKey: ["picker", code], retry: false, queryFn: () => openPicker(code) });
  if (error)
    return (
      <main className="grid min-h-full place-items-center p-6">
        <p className="max-w-sm text-center">{messageOf(error)}</p>
      </main>
    );
  if (!site) return null;
  rows.brand = site.brand;
  return <Picker site={site} state={state} />;
}

function Picker({ site, state }: { site: Schema["PickingSite"]; state?: string }) {
  const [place, setPlace] = useState<SheetQuery>({ place: "everything" });
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState<Chosen[]>([]);
  const [size, setSize] = useState<Size>("medium");
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const wanted = words.trim();
  const query: SheetQuery = wanted ? { place: "everything", filter: { field: "words", names: [wanted] }, sort: "fit" } : place;
  const toggle = (id: number, alt: string) => {
    setProblem(undefined);
    setAsked(false);
    setChosen((c) => (c.some((x) => x.id === id) ? c.filter((x) => x.id !== id) : [...c, { id, alt }]));
  };
  const [asked, setAsked] = useState(false);
  const silent = chosen.filter((c) => c.alt.trim() === "");
  const hand = async () => {
    if (silent.length > 0 && !asked) {
      setAsked(true);
      document.querySelector<HTMLElement>(`[data-alt="${silent[0]!.id}"] input`)?.focus();
      return;
    }
    setBusy(true);
    try {
      const made = await makePublic(site.brand, { ids: chosen.map((c) => c.id) });
      handOver(site.origin, state, chosen, made.addresses, size);
    } catch (wrong) {
      setProblem(messageOf(wrong));
      setBusy(false);
    }
  };
  return (
    <Tips>
      <main className="grid h-full grid-rows-[auto_minmax(0,1fr)_auto]" data-page="picker">
        <header className="stitch-b flex flex-wrap items-center gap-3 bg-card px-4 py-2">
          <Mark />
          <div className="min-w-60 flex-1">
            <h1 className="truncate text-lg">Pictures for {site.name}</h1>
            <p className="truncate text-small text-ink-soft">
              from {site.brandName}, to {site.origin}
            </p>
          </div>
          <input
            type="search"
            aria-label="Search"
            placeholder="Search"
            className="w-56 max-md:w-full rounded-patch border border-line-strong bg-card px-2.5 py-1.5"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        </header>
        <div className="grid min-h-0 grid-cols-[220px_minmax(0,1fr)] max-md:grid-cols-1">
          <Places brand={site.brand} place={place} onGo={(to) => (setPlace(to), setWords(""))} />
          <Choices key={JSON.stringify(query)} brand={site.brand} query={query} chosen={chosen} onToggle={toggle} />
        </div>
        <footer className="stitch-t max-h-[45vh] space-y-2 overflow-y-auto bg-card px-4 py-3">
          {chosen.map((c) => (
            <Alt
              key={c.id}
              brand={site.brand}
              chosen={c}
              asked={asked}
              onAlt={(alt) => setChosen((all) => all.map((x) => (x.id === c.id ? { ...x, alt } : x)))}
            />
          ))}
          {asked && silent.length > 0 && (
            <p role="alert" data-asks-alt={silent.length}>
              {silent.length === 1 ? "1 picture has" : `${silent.length} pictures have`} no alt text. Write what can be seen, for whoever
              cannot see it; or leave it empty, if it is there for decoration only.
            </p>
          )}
          {problem && (
            <p role="alert" className="text-tomato">
              {problem}
            </p>
          )}
          <div className="flex flex-wrap items-end gap-3">
            <Choice
              label="Size"
              value={size}
              options={sizes.map((s) => ({ value: s.name, label: `${s.name}, up to ${s.width} pixels wide` }))}
              onChange={setSize}
            />
            <Button tone="strap" disabled={chosen.length === 0 || busy} onClick={() => void hand()}>
              {chosen.length === 0
                ? "Choose a picture"
                : `Put ${plural(chosen.length, "picture")} into the page${asked && silent.length > 0 ? ", as decoration" : ""}`}
            </Button>
            <p className="text-small text-ink-soft">They get an address that anybody can open.</p>
          </div>
        </footer>
      </main>
    </Tips>
  );
}

function Places({ brand, place, onGo }: { brand: string; place: SheetQuery; onGo: (to: SheetQuery) => void }) {
  const albums = useAlbums(brand).data ?? [];
  const folders = useFolders(brand).data ?? none;
  const inOrder = useMemo(() => {
    const inside = new Map<number | undefined, Folder[]>();
    for (const f of folders) if (!f.parked) inside.set(f.parent, [...(inside.get(f.parent) ?? []), f]);
    const walk = (parent: number | undefined, level: number): { folder: Folder; level: number }[] =>
      (inside.get(parent) ?? []).flatMap((folder) => [{ folder, level }, ...walk(folder.id, level + 1)]);
    return walk(undefined, 0);
  }, [folders]);
  const row = (to: SheetQuery, name: string, icon: React.ReactNode, level = 0) => {
    const here = to.place === place.place && to.id === place.id;
    return (
      <li key={`${to.place}${to.id ?? ""}`}>
        <button
          type="button"
          aria-current={here ? "true" : undefined}
          className={clsx("flex w-full items-center gap-2 rounded-patch px-2 py-1.5 text-left", here ? "bg-saffron-wash" : "hover:bg-sunk")}
          style={{ paddingLeft: 8 + level * 14 }}
          onClick={() => onGo(to)}
        >
          {icon}
          <span className="truncate">{name}</span>
        </button>
      </li>
    );
  };
  return (
    <nav aria-label="Places" className="min-h-0 overflow-y-auto border-r border-line p-2 max-md:max-h-40">
      <ul>
        {row({ place: "everything" }, "Everything", <Images size={16} className="shrink-0" />)}
        {albums
          .filter((a) => !a.parked)
          .map((a) => row({ place: "album", id: a.id }, a.name, <BookImage size={16} className="shrink-0" />))}
        {inOrder.map(({ folder: f, level }) =>
          row({ place: "folder", id: f.id, below: true }, f.name, <FolderIcon size={16} className="shrink-0 text-ink-soft" />, level),
        )}
      </ul>
    </nav>
  );
}

function Choices({
  brand,
  query,
  chosen,
  onToggle,
}: {
  brand: string;
  query: SheetQuery;
  chosen: Chosen[];
  onToggle: (id: number, alt: string) => void;
}) {
  const sheet = useSheet(brand, query).data;
  const [most, setMost] = useState(shownAtFirst);
  const ids = sheet?.ids.slice(0, most).filter((id) => id > 0);
  return (
    <div className="min-h-0 overflow-y-auto p-3" tabIndex={-1}>
      {ids?.length === 0 && <p className="p-4 text-ink-soft">Nothing is here.</p>}
      <ul className="flex flex-wrap gap-2" aria-label="Pictures">
        {ids?.map((id) => (
          <li key={id}>
            <Pickable brand={brand} id={id} place={chosen.findIndex((c) => c.id === id)} onToggle={onToggle} />
          </li>
        ))}
      </ul>
      {sheet && sheet.ids.length > most && (
        <Button className="mt-3" onClick={() => setMost(most + 120)}>
          Show more of {sheet.ids.length.toLocaleString("en-GB")}
        </Button>
      )}
    </div>
  );
}

function Pickable({
  brand,
  id,
  place,
  onToggle,
}: {
  brand: string;
  id: number;
  place: number;
  onToggle: (id: number, alt: string) => void;
}) {
  const row = useRow(id);
  if (!row) {
    rows.want([id]);
    return <div className="h-32 w-40 rounded-patch bg-sunk" />;
  }
  return (
    <button
      type="button"
      aria-pressed={place >= 0}
      aria-label={place >= 0 ? `${place + 1}: ${titleOf(row)}` : titleOf(row)}
      title={titleOf(row)}
      className={clsx("relative block h-32 overflow-hidden rounded-patch", place >= 0 && "outline-4 outline-saffron")}
      style={{ width: Math.min(256, Math.max(64, Math.round((128 * row.width) / row.height))) }}
      onClick={() => onToggle(id, row.alt)}
    >
      <img src={mediaAddress(brand, row, "small")} alt="" className="size-full object-cover" />
      {place >= 0 && (
        <span className="absolute top-1 left-1 min-w-6 rounded-full bg-saffron px-1.5 text-small font-medium text-on-saffron">
          {place + 1}
        </span>
      )}
    </button>
  );
}

/** Alt is the alt text of something that was chosen, as it goes into the page. */
function Alt({ brand, chosen, asked, onAlt }: { brand: string; chosen: Chosen; asked: boolean; onAlt: (alt: string) => void }) {
  const row = useRow(chosen.id);
  return (
    <div className="flex items-end gap-3" data-alt={chosen.id}>
      {row && <img src={mediaAddress(brand, row, "small")} alt="" className="h-12 w-16 shrink-0 rounded-patch object-cover" />}
      <TextField
        className="min-w-0 flex-1"
        label={`Alt text of ${row ? titleOf(row) : "it"}, for this page`}
        value={chosen.alt}
        placeholder={row?.title && !chosen.alt ? `What can be seen? (titled “${row.title}”)` : "What can be seen?"}
        problem={asked && chosen.alt.trim() === "" ? "None yet" : undefined}
        maxLength={1000}
        onChange={(e) => onAlt(e.target.value)}
        autoComplete="off"
      />
    </div>
  );
}
