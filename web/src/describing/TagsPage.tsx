import { clsx } from "clsx";
import { Lock, Plus } from "lucide-react";
import { useMemo, useState } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useSpellings, useTagGroups, useTags } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { plural } from "~/kit/words";
import { GroupDialog } from "./GroupDialog";
import { SeveralTags, TagCard } from "./TagCard";
import { foundBy, plain } from "~/kit/completion";
import { makeGroup, tidyTags } from "./acts";

type Tag = Schema["Tag"];

/** Of more tags than this the first are shown; the rest are found by their names. */
const mostShown = 600;

const none: Schema["TagGroup"][] = [];

/** TagsPage is where the tags of a brand are kept in order: by group, with on how many items each is. */
export function TagsPage({ me }: { me: Me }) {
  const brand = me.brand;
  const { data: all, error } = useTags(brand);
  const keeps = me.can.includes("closed_tags");
  const groups = useTagGroups(brand, keeps).data ?? none;
  const spellings = useSpellings(brand).data;
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [asked, setAsked] = useState<"group" | "tidy" | Schema["TagGroup"]>();
  const wanted = plain(words.trim());
  const spelt = useMemo(() => {
    const names = new Map<number, string[]>();
    for (const s of spellings ?? []) names.set(s.tag, [...(names.get(s.tag) ?? []), s.name]);
    return names;
  }, [spellings]);
  const found = useMemo(() => foundBy(words, all ?? [], (t) => [t.name, ...(spelt.get(t.id) ?? [])].join(" / ")), [all, words, spelt]);
  const sections = useMemo(() => byGroup(found.slice(0, mostShown), wanted ? [] : groups), [found, groups, wanted]);
  const unused = (all ?? []).filter((t) => t.uses === 0).length;
  const there = (all ?? []).filter((t) => chosen.has(t.id));
  const toggle = (id: number, more: boolean) =>
    setChosen((before) => {
      const next = new Set(more ? before : []);
      if (!more && before.size === 1 && before.has(id)) return new Set();
      if (more && before.has(id)) next.delete(id);
      else next.add(id);
      return next;
    });
  if (!keeps) return <p className="p-6">Stewards and coordinators keep the tags in order.</p>;
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-page="tags">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="text-lg">Tags</h1>
        <span className="text-ink-soft">{all && plural(all.length, "tag")}</span>
        <input
          type="search"
          aria-label="Find a tag"
          placeholder="Find a tag"
          className="ml-auto w-48 rounded-patch border border-line bg-paper px-2.5 py-1 placeholder:text-ink-soft max-md:w-full"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <Button icon={<Plus size={16} />} onClick={() => setAsked("group")}>
          New group
        </Button>
        <Button disabled={unused === 0} onClick={() => setAsked("tidy")}>
          Tidy up{unused > 0 && ` ${unused.toLocaleString("en-GB")}`}…
        </Button>
      </div>
      <div className="flex min-h-0 flex-1 max-md:flex-col-reverse">
        <div className="min-h-0 flex-1 overflow-y-auto p-4" tabIndex={0} role="group" aria-label="All tags">
          {error && (
            <p role="alert" className="text-tomato">
              {messageOf(error)}
            </p>
          )}
          {all?.length === 0 && (
            <p className="text-ink-soft">
              {me.can.includes("describe")
                ? "No tags yet. They come with files, or are typed on the card of an item: select some and press Describe."
                : "No tags yet."}
            </p>
          )}
          {all && all.length > 0 && found.length === 0 && <p className="text-ink-soft">No tag has “{words.trim()}” in its name.</p>}
          {sections.map((s) => (
            <section key={s.name} className="mb-5" aria-label={s.name || "In no group"}>
              <h2 className="mb-1.5 flex items-center gap-2 text-base">
                {s.name || "In no group"}
                <span className="text-dense font-normal text-ink-soft">{s.tags.length.toLocaleString("en-GB")}</span>
                {s.group?.closed && (
                  <span className="inline-flex items-center gap-1 text-dense font-normal text-ink-soft">
                    <Lock size={14} aria-hidden="true" /> closed
                  </span>
                )}
                {s.group && (
                  <button type="button" className="text-dense font-normal text-sea underline" onClick={() => setAsked(s.group)}>
                    Change the group
                  </button>
                )}
              </h2>
              <ul className="flex flex-wrap gap-1.5">
                {s.tags.map((t) => (
                  <li key={t.id}>
                    <button
                      type="button"
                      aria-pressed={chosen.has(t.id)}
                      data-tag={t.name}
                      className={clsx(
                        "inline-flex items-center gap-1.5 rounded-full border px-2.5 py-0.5",
                        chosen.has(t.id) ? "border-saffron bg-saffron-wash" : "border-line bg-card hover:bg-sunk",
                      )}
                      onClick={(e) => toggle(t.id, e.ctrlKey || e.metaKey || e.shiftKey)}
                    >
                      <span className="max-w-72 truncate">{t.name}</span>
                      <span className="text-dense text-ink-soft">{t.uses.toLocaleString("en-GB")}</span>
                    </button>
                  </li>
                ))}
                {s.tags.length === 0 && <li className="text-dense text-ink-soft">Nothing in it yet. Choose a tag and put it here.</li>}
              </ul>
            </section>
          ))}
          {found.length > mostShown && (
            <p className="text-ink-soft">And {plural(found.length - mostShown, "more tag")}. Type part of a name to find one.</p>
          )}
        </div>
        <aside
          aria-label="What is chosen"
          className={clsx(
            "w-[340px] shrink-0 overflow-y-auto border-l border-line bg-card p-4",
            "max-md:max-h-[55%] max-md:w-full max-md:border-b max-md:border-l-0",
            there.length === 0 && "max-md:hidden",
          )}
        >
          {there.length === 0 && (
            <p className="text-ink-soft">Choose a tag to rename, merge, group or remove it. With Ctrl or Shift you choose several.</p>
          )}
          {there.length === 1 && (
            <TagCard
              key={there[0]!.id}
              brand={brand}
              id={there[0]!.id}
              tags={all ?? []}
              groups={groups}
              spellings={(spellings ?? []).filter((s) => s.tag === there[0]!.id)}
            />
          )}
          {there.length > 1 && <SeveralTags brand={brand} chosen={there} groups={groups} onDone={() => setChosen(new Set())} />}
        </aside>
      </div>
      {asked === "group" && <NewGroup brand={brand} onClose={() => setAsked(undefined)} />}
      {asked === "tidy" && (
        <Dialog
          title={`Remove ${plural(unused, "tag")} that ${unused === 1 ? "is" : "are"} on no item?`}
          about="Those that a folder has stay. You can undo it."
          onClose={() => setAsked(undefined)}
        >
          <Button
            tone="danger"
            autoFocus
            onClick={() => {
              setAsked(undefined);
              void tidyTags(brand);
            }}
          >
            Remove them
          </Button>
        </Dialog>
      )}
      {typeof asked === "object" && <GroupDialog brand={brand} group={asked} onClose={() => setAsked(undefined)} />}
    </div>
  );
}

interface Section {
  name: string;
  group?: Schema["TagGroup"];
  tags: Tag[];
}

/** byGroup puts tags, which come in the order of their groups, under their headings; groups without any come too. */
export function byGroup(tags: Tag[], groups: Schema["TagGroup"][]): Section[] {
  const sections = new Map<string, Section>(groups.map((g) => [g.name, { name: g.name, group: g, tags: [] }]));
  for (const t of tags) {
    const section = sections.get(t.group) ?? { name: t.group, tags: [] };
    section.tags.push(t);
    sections.set(t.group, section);
  }
  const loose = sections.get("");
  sections.delete("");
  return loose ? [...sections.values(), loose] : [...sections.values()];
}

function NewGroup({ brand, onClose }: { brand: string; onClose: () => void }) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const make = async () => {
    try {
      await makeGroup(brand, name);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title="New tag group" about="For tags of one kind: products, seasons, places." onClose={onClose}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <TextField
          label="Name"
          value={name}
          maxLength={60}
          autoFocus
          autoComplete="off"
          problem={problem}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" tone="main" className="mt-3" disabled={!name.trim()}>
          Make it
        </Button>
      </form>
    </Dialog>
  );
}
