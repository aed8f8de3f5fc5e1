import { BookImage, Folder as FolderIcon, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useSatchel } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Switch } from "~/kit/Field";
import { Menu } from "~/kit/Menu";
import { warn } from "~/kit/notes";
import { SavedField } from "~/kit/SavedField";
import { addSatchel, changeGallery, setGallery } from "./acts";
import { SourcesDialog } from "./SourcesDialog";

type Chapter = Schema["GalleryChapter"];

/** GalleryChapters are what a gallery shows, one after the other: each a folder or an album, with words of its own. */
export function GalleryChapters({ brand, gallery: g }: { brand: string; gallery: Schema["Gallery"] }) {
  const carried = useSatchel(brand).data?.map((i) => i.id) ?? [];
  const [choosing, setChoosing] = useState(false);
  const plain = ({ id, title, words, folder, album, below }: Chapter) => ({ id, title, words, folder, album, below });
  const set = (chapters: Chapter[]) => changeGallery(brand, g.id, { chapters: chapters.map(plain) });
  const write = (at: number, part: Partial<Chapter>) =>
    setGallery(brand, g.id, { chapters: g.chapters.map((c, i) => plain(i === at ? { ...c, ...part } : c)) });
  const move = (at: number, to: number) => {
    const next = [...g.chapters];
    next.splice(to, 0, ...next.splice(at, 1));
    void set(next);
  };
  return (
    <section aria-label="Chapters" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">Chapters</h2>
      <ol className="space-y-3">
        {g.chapters.map((c, i) => (
          <li
            key={c.id}
            data-chapter={c.name}
            className="grid gap-x-4 gap-y-2 border-t border-line pt-3 first:border-0 first:pt-0 md:grid-cols-2"
          >
            <div className="flex items-center gap-2 md:col-span-2">
              <span className="w-5 text-ink-soft">{i + 1}</span>
              {c.album ? <BookImage size={18} className="shrink-0" /> : <FolderIcon size={18} className="shrink-0" />}
              <span className="min-w-0 flex-1 truncate font-medium">{c.name ?? "What it showed was removed"}</span>
              {c.byRule ? (
                <span className="text-small text-ink-soft">a rule keeps it filled</span>
              ) : (
                <Switch label="with what is below it" checked={c.below} onChange={(below) => void write(i, { below })} />
              )}
              <Menu
                trigger={<IconButton label={`More about chapter ${i + 1}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
                items={[
                  ...(i > 0 ? [{ label: "Move it up", onSelect: () => move(i, i - 1) }] : []),
                  ...(i < g.chapters.length - 1 ? [{ label: "Move it down", onSelect: () => move(i, i + 1) }] : []),
                  ...(g.chapters.length > 1
                    ? [{ label: "Take the chapter out", onSelect: () => void set(g.chapters.filter((_, at) => at !== i)) }]
                    : []),
                ]}
              />
            </div>
            <SavedField
              label="Title of the chapter"
              value={c.title ?? ""}
              maxLength={200}
              placeholder={g.chapters.length > 1 ? c.name : ""}
              onSave={(title) => write(i, { title })}
            />
            <SavedField label="Words below it" value={c.words ?? ""} onSave={(words) => write(i, { words })} />
          </li>
        ))}
      </ol>
      <span className="flex flex-wrap gap-2">
        <Button onClick={() => setChoosing(true)}>Add chapters…</Button>
        {carried.length > 0 && (
          <Button onClick={() => void addSatchel(brand, g, carried).catch((error: unknown) => warn(messageOf(error)))}>
            Add the {carried.length.toLocaleString("en-GB")} in the satchel
          </Button>
        )}
      </span>
      {choosing && (
        <SourcesDialog
          brand={brand}
          title={`More for “${g.title}”`}
          chosen={[]}
          verb="Add"
          onChoose={(sources) => setGallery(brand, g.id, { chapters: [...g.chapters.map(plain), ...sources] })}
          onClose={() => setChoosing(false)}
        />
      )}
    </section>
  );
}
