import { clsx } from "clsx";
import { CircleParking, FolderClosed, FolderInput, FolderPlus, MoreHorizontal } from "lucide-react";
import { useState, type FormEvent } from "react";
import { messageOf } from "~/api/client";
import { prefer, usePreferences } from "~/api/preferences";
import { useParking, type ThingKind } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { Menu, type MenuItem } from "~/kit/Menu";
import { changeThingFolder, makeThingFolder, placeThings, removeThingFolder } from "./acts";
import { emptyParking, placeOfThing, thingsAt, type ThingsAt } from "./things";

/** useThings is which things of a kind are shown now: those that lie open, those of a folder, those that are parked, or those whose names
 * match what one types, wherever they are. */
export function useThings<T extends { id: number }>(brand: string, kind: ThingKind, all: T[] | undefined, nameOf: (thing: T) => string) {
  const parking = useParking(brand, kind).data ?? emptyParking;
  const preferred = usePreferences(brand).thingsAt?.[kind] ?? "open";
  const places = usePreferences(brand).thingsAt;
  const [words, setWords] = useState("");
  const known = typeof preferred !== "number" || parking.folders.some((f) => f.id === preferred);
  const at: ThingsAt = known ? preferred : "open";
  const look = (to: ThingsAt) => {
    setWords("");
    prefer(brand, { thingsAt: { ...places, [kind]: to } });
  };
  const list = all ?? [];
  const count = (place: ThingsAt) => thingsAt(list, parking, place, "", nameOf).length;
  return { kind, parking, at, look, words, setWords, count, shown: thingsAt(list, parking, at, words, nameOf), any: list.length > 0 };
}

export type Things = Omit<ReturnType<typeof useThings<{ id: number }>>, "shown">;

/** ThingsBar chooses what is shown of the things of a kind, and makes, renames, parks and removes their folders. */
export function ThingsBar({ brand, things: t, what }: { brand: string; things: Things; what: string }) {
  const [asked, setAsked] = useState<"new" | "rename">();
  const open = t.parking.folders.find((f) => f.id === t.at);
  if (!t.any && t.parking.folders.length === 0) return null;
  const chip = (to: ThingsAt, name: string, parked = false) => (
    <button
      key={to}
      type="button"
      aria-pressed={t.words === "" && t.at === to}
      className={clsx(
        "rounded-patch border px-2 py-0.5 text-dense",
        t.words === "" && t.at === to ? "border-saffron bg-saffron-wash" : "border-line bg-card hover:bg-sunk",
        parked && "text-ink-soft",
      )}
      onClick={() => t.look(to)}
      data-things-at={to}
    >
      {name} <span className="text-ink-soft tabular-nums">{t.count(to).toLocaleString("en-GB")}</span>
    </button>
  );
  const parked = t.count("parked");
  return (
    <div className="flex flex-wrap items-center gap-1.5 px-4 py-2" data-things={t.kind}>
      <input
        type="search"
        aria-label={`Find one of the ${what}, parked ones too`}
        placeholder={`Find one of the ${what}`}
        className="w-52 rounded-patch border border-line bg-paper px-2.5 py-1 placeholder:text-ink-soft"
        value={t.words}
        onChange={(e) => t.setWords(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && t.setWords("")}
      />
      {chip("open", "Open")}
      {t.parking.folders.filter((f) => !f.parked || f.id === t.at).map((f) => chip(f.id, f.name, f.parked))}
      {(parked > 0 || t.at === "parked") && chip("parked", "Parked", true)}
      <IconButton label="New folder" icon={<FolderPlus size={18} />} onClick={() => setAsked("new")} />
      {open && (
        <Menu
          trigger={<IconButton label={`More about the folder ${open.name}`} icon={<MoreHorizontal size={18} />} />}
          items={[
            { label: "Rename the folder…", onSelect: () => setAsked("rename") },
            {
              label: open.parked ? "Bring the folder back" : "Park the folder",
              onSelect: () => void changeThingFolder(brand, t.kind, open.id, { parked: !open.parked }),
            },
            null,
            { label: "Remove the folder; what is in it stays", onSelect: () => void removeThingFolder(brand, t.kind, open.id) },
          ]}
        />
      )}
      {t.words !== "" && <span className="text-dense text-ink-soft">also among parked ones</span>}
      {asked && (
        <FolderDialog
          title={asked === "new" ? "New folder" : `Rename “${open?.name}”`}
          name={asked === "new" ? "" : (open?.name ?? "")}
          onName={async (name) => {
            if (asked === "new") t.look((await makeThingFolder(brand, t.kind, name)).id ?? "open");
            else if (open) await changeThingFolder(brand, t.kind, open.id, { name });
          }}
          onClose={() => setAsked(undefined)}
        />
      )}
    </div>
  );
}

function FolderDialog({
  title,
  name: before,
  onName,
  onClose,
}: {
  title: string;
  name: string;
  onName: (name: string) => Promise<unknown>;
  onClose: () => void;
}) {
  const [name, setName] = useState(before);
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await onName(name);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField label="Name" autoFocus value={name} maxLength={200} problem={problem} onChange={(e) => setName(e.target.value)} />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          {before ? "Rename it" : "Make the folder"}
        </Button>
      </form>
    </Dialog>
  );
}

/** placeItems are the entries of a menu that put a thing into a folder of its kind, park it, or bring it back. */
export function placeItems(brand: string, t: Things, id: number): (MenuItem | null)[] {
  const place = placeOfThing(t.parking, id);
  const others = t.parking.folders.filter((f) => f.id !== place.folder?.id);
  return [
    ...others.map((f) => ({
      label: `Put it into “${f.name}”`,
      icon: <FolderInput size={16} />,
      onSelect: () => void placeThings(brand, t.kind, [id], { folder: f.id }),
    })),
    ...(place.folder
      ? [
          {
            label: `Take it out of “${place.folder.name}”`,
            icon: <FolderClosed size={16} />,
            onSelect: () => void placeThings(brand, t.kind, [id], { folder: 0 }),
          },
        ]
      : []),
    {
      label: place.own ? "Bring it back" : "Park it",
      icon: <CircleParking size={16} />,
      onSelect: () => void placeThings(brand, t.kind, [id], { parked: !place.own }),
    },
  ];
}

/** WhereItIs says of a thing that was found by its name where it is, and that it is parked. */
export function WhereItIs({ things: t, id }: { things: Things; id: number }) {
  const place = placeOfThing(t.parking, id);
  const said = [place.folder && t.at !== place.folder.id && `in ${place.folder.name}`, place.parked && "parked"].filter(Boolean);
  return said.length > 0 ? <span className="block text-small text-ink-soft">{said.join(", ")}</span> : null;
}
