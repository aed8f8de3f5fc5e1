import { useNavigate } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import type { Me, SheetQuery } from "~/api/client";
import { usePreferences } from "~/api/preferences";
import { useAlbums, useFolders, useTags } from "~/api/queries";
import { foundBy } from "~/kit/completion";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { names as stepNames, stepsFor } from "~/path/Steps";
import { pathName } from "~/sheet/Heading";
import { only, withFacets } from "~/sheet/filters";
import { useSendOutGoals } from "~/sendout/goals";
import { useBrand, useGo } from "~/sheet/place";

interface Goal {
  name: string;
  what: string;
  go: () => void;
  /** What it is found by. */
  found: string;
}

const most = 12;
const placeNames: Partial<Record<SheetQuery["place"], string>> = { everything: "Everything", unfiled: "Unfiled", bin: "Bin" };

/** firstThat are the first goals that have all the words in their names. */
function firstThat(goals: Goal[], words: string[]) {
  const hits: Goal[] = [];
  for (const g of goals) if (words.every((w) => g.found.includes(w)) && hits.push(g) >= most) break;
  return hits.length > 0 ? hits : foundBy(words.join(" "), goals, (g) => g.found).slice(0, most);
}

/** GoTo finds folders, albums, tags, steps, and what is sent out, by part of their names. */
export function GoTo({ me, onClose }: { me: Me; onClose: () => void }) {
  const brand = useBrand();
  const { goTo, goToStep } = useGo();
  const navigate = useNavigate();
  const folders = useFolders(brand).data;
  const albums = useAlbums(brand).data;
  const tags = useTags(brand).data;
  const [words, setWords] = useState("");
  const [at, setAt] = useState(0);
  const things = useSendOutGoals(me);
  const recent = usePreferences(brand).recent;
  const goals = useMemo(() => {
    const nameOf = (p: SheetQuery) =>
      p.place === "folder" ? pathName(folders, p.id) : p.place === "album" ? albums?.find((a) => a.id === p.id)?.name : placeNames[p.place];
    const all: Omit<Goal, "found">[] = [
      ...(recent ?? []).slice(1, 6).flatMap((p) => {
        const name = nameOf(p);
        return name ? [{ name, what: "recent", go: () => goTo(p) }] : [];
      }),
      { name: "Everything", what: "place", go: () => goTo({ place: "everything" }) },
      { name: "Unfiled", what: "place", go: () => goTo({ place: "unfiled" }) },
      { name: "My keepers", what: "place", go: () => goTo({ place: "everything", filter: only("keeper") }) },
      { name: "Bin", what: "place", go: () => goTo({ place: "bin" }) },
      ...(me.can.includes("closed_tags")
        ? [
            { name: "All tags", what: "page", go: () => void navigate({ to: "/b/$brand/tags", params: { brand } }) },
            {
              name: "Who is shown",
              what: "page",
              go: () => void navigate({ to: "/b/$brand/people-shown", params: { brand }, search: { person: undefined } }),
            },
          ]
        : []),
      ...stepsFor(me).map((s) => ({ name: stepNames[s], what: "step", go: () => goToStep(s) })),
      ...(folders ?? []).map((f) => ({ name: pathName(folders, f.id), what: "folder", go: () => goTo({ place: "folder", id: f.id }) })),
      ...(albums ?? []).map((a) => ({ name: a.name, what: "album", go: () => goTo({ place: "album", id: a.id }) })),
      ...(tags ?? []).map((t) => ({
        name: t.name,
        what: "tag",
        go: () => goTo({ place: "everything", filter: withFacets(undefined, { tag: { how: "any", values: [t.id] } }) }),
      })),
      ...things,
    ];
    return all.map((g) => ({ ...g, found: `${g.name} ${g.what}`.toLowerCase() }));
  }, [me, brand, folders, albums, tags, things, recent, goTo, goToStep, navigate]);
  const hits = useMemo(() => firstThat(goals, words.toLowerCase().split(/\s+/).filter(Boolean)), [goals, words]);
  const go = (goal: Goal | undefined) => {
    if (!goal) return;
    onClose();
    goal.go();
  };
  return (
    <Dialog title="Go to…" onClose={onClose}>
      <TextField
        label="Folder, album, tag or step, or anything by its name"
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
