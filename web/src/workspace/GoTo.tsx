import { useState } from "react";
import type { Me, SheetQuery } from "~/api/client";
import { usePreferences } from "~/api/preferences";
import { useAlbums, useFolders, useTags } from "~/api/queries";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { stepsFor } from "~/path/Path";
import { pathOf } from "~/sheet/Heading";
import { only, withFacets } from "~/sheet/filters";
import { useBrand, useGo } from "~/sheet/place";

interface Goal {
  name: string;
  what: string;
  go: () => void;
}

const most = 12;
const placeNames: Partial<Record<SheetQuery["place"], string>> = { everything: "Everything", unfiled: "Unfiled", bin: "Bin" };

/** GoTo finds folders, albums, tags and steps by part of their names. */
export function GoTo({ me, onClose }: { me: Me; onClose: () => void }) {
  const brand = useBrand();
  const { goTo, goToStep } = useGo();
  const folders = useFolders(brand).data ?? [];
  const albums = useAlbums(brand).data ?? [];
  const tags = useTags(brand).data ?? [];
  const [words, setWords] = useState("");
  const [at, setAt] = useState(0);
  const nameOf = (p: SheetQuery) =>
    p.place === "folder"
      ? pathOf(folders, p.id)
          .map((f) => f.name)
          .join(" / ")
      : p.place === "album"
        ? albums.find((a) => a.id === p.id)?.name
        : placeNames[p.place];
  const recent = (usePreferences(brand).recent ?? []).slice(1, 6).flatMap((p) => {
    const name = nameOf(p);
    return name ? [{ name, what: "recent", go: () => goTo(p) }] : [];
  });
  const goals: Goal[] = [
    ...recent,
    { name: "Everything", what: "place", go: () => goTo({ place: "everything" }) },
    { name: "Unfiled", what: "place", go: () => goTo({ place: "unfiled" }) },
    { name: "My keepers", what: "place", go: () => goTo({ place: "everything", filter: only("keeper") }) },
    { name: "Bin", what: "place", go: () => goTo({ place: "bin" }) },
    ...stepsFor(me).map((s) => ({ name: s.replace("-", " "), what: "step", go: () => goToStep(s) })),
    ...folders.map((f) => ({
      name: pathOf(folders, f.id)
        .map((p) => p.name)
        .join(" / "),
      what: "folder",
      go: () => goTo({ place: "folder", id: f.id }),
    })),
    ...albums.map((a) => ({ name: a.name, what: "album", go: () => goTo({ place: "album", id: a.id }) })),
    ...tags.map((t) => ({
      name: t.name,
      what: "tag",
      go: () => goTo({ place: "everything", filter: withFacets(undefined, { tag: { how: "any", values: [t.id] } }) }),
    })),
  ];
  const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
  const hits = goals.filter((g) => parts.every((p) => `${g.name} ${g.what}`.toLowerCase().includes(p))).slice(0, most);
  const go = (goal: Goal | undefined) => {
    if (!goal) return;
    onClose();
    goal.go();
  };
  return (
    <Dialog title="Go to…" onClose={onClose}>
      <TextField
        label="Folder, album, tag or step"
        autoFocus
        autoComplete="off"
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(at + 1, hits.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else if (e.key === "Enter") go(hits[at]);
          else return;
          e.preventDefault();
        }}
      />
      <ul className="mt-3" aria-label="Found">
        {hits.map((g, i) => (
          <li key={`${g.what} ${g.name}`}>
            <button
              type="button"
              className={`flex w-full items-center gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk ${i === at ? "bg-sunk" : ""}`}
              onClick={() => go(g)}
            >
              <span className="min-w-0 flex-1 truncate">{g.name}</span>
              <span className="text-small text-ink-soft">{g.what}</span>
            </button>
          </li>
        ))}
        {hits.length === 0 && <li className="text-ink-soft">Nothing has that in its name.</li>}
      </ul>
    </Dialog>
  );
}
