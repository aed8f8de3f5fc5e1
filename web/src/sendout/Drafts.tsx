import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useDrafts } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { items, when } from "~/kit/words";
import { removeDraft } from "./acts";
import { DispatchDialog } from "./DispatchDialog";
import type { Page } from "./dispatching";
import { placeItems, ThingsBar, useThings, WhereItIs } from "./Things";

type Draft = Schema["Draft"];

/** Drafts lists the dispatches that nobody has sent yet: to be gone on with, or removed. */
export function Drafts({ brand, pages }: { brand: string; pages: Page[] }) {
  const all = useDrafts(brand).data;
  const [open, setOpen] = useState<Draft>();
  const things = useThings(brand, "draft", all, (d: Draft) => d.name);
  if (!all || all.length === 0) return null;
  return (
    <section aria-label="Drafts" data-drafts={all.length}>
      <h2 className="mb-1 text-base">Drafts</h2>
      <p className="mb-2 text-small text-ink-soft">Nothing of them has left. They wait until somebody looks at them and says “go”.</p>
      <div className="-mx-4">
        <ThingsBar brand={brand} things={things} what="drafts" />
      </div>
      {things.shown.length === 0 && <p className="text-ink-soft">None here.</p>}
      <ul className="space-y-2">
        {things.shown.map((d) => (
          <li
            key={d.id}
            className="flex flex-wrap items-center gap-2 rounded-patch border border-dashed border-line-strong p-2"
            data-draft={d.id}
          >
            <span className="min-w-56 flex-1">
              <span className="block font-medium break-words">{d.name}</span>
              <span className="block text-small text-ink-soft">
                {items(d.items)}
                {toPages(d, pages)}, changed {when(d.changed)}
                {d.by && ` by ${d.by}`}
              </span>
              <WhereItIs things={things} id={d.id} />
              {d.why && <span className="block text-small text-tomato">Not sent by itself: {d.why}</span>}
            </span>
            <Button onClick={() => setOpen(d)}>Go on with it…</Button>
            <Menu
              trigger={<IconButton label={`More about ${d.name}`} icon={<MoreHorizontal size={18} />} />}
              items={[
                ...placeItems(brand, things, d.id),
                null,
                { label: "Remove the draft", danger: true, onSelect: () => void removeDraft(brand, d.id) },
              ]}
            />
          </li>
        ))}
      </ul>
      {open && (
        <DispatchDialog
          key={open.id}
          brand={brand}
          selection={open.dispatch.selection}
          count={open.items}
          draft={open}
          onClose={() => setOpen(undefined)}
        />
      )}
    </section>
  );
}

/** toPages says where a draft goes, as far as that is known. */
function toPages(d: Draft, pages: Page[]) {
  const names = d.dispatch.pages.map((p) => pages.find((g) => g.id === p.page)?.name).filter((n) => n !== undefined);
  return names.length > 0 ? ` to ${names.join(", ")}` : "";
}
