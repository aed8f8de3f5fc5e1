import { Clock, Copy, ListOrdered, Table } from "lucide-react";
import { useMemo, useState } from "react";
import type { Me } from "~/api/client";
import { useSelectionTags, useSharedWords } from "~/api/queries";
import { Button } from "~/kit/Button";
import { items } from "~/kit/words";
import { useMay } from "~/sheet/rights";
import { asSelection, useChosen, useCount } from "~/sheet/selection";
import { ClockDialog } from "./ClockDialog";
import { ManyField } from "./ManyField";
import { TableDialog } from "./TableDialog";
import { TagEntry } from "./TagEntry";
import { TakeOverDialog } from "./TakeOverDialog";
import { TitlesDialog } from "./TitlesDialog";
import { fields, shown } from "./fields";

/** CardOfMany is the card of a selection: what all its items say, and where they differ. */
export function CardOfMany({ brand, me }: { brand: string; me: Me }) {
  const count = useCount();
  const selected = useChosen((s) => s.selected);
  const wholly = useChosen((s) => s.wholly);
  const selection = useMemo(asSelection, [selected, wholly]);
  const mayDescribe = useMay(me)("describe");
  const tags = useSelectionTags(brand, selection).data;
  // what the selection before agreed on says nothing of this one: until it is compared, whatever one writes asks first
  const { data: compared, isPlaceholderData: outdated } = useSharedWords(brand, selection);
  const words = compared && !outdated ? compared : undefined;
  const [asked, setAsked] = useState<"titles" | "clock" | "like one" | "table">();
  const summary = (name: string) => words?.fields.find((f) => f.field === name);
  return (
    <section className="space-y-4">
      <h2 className="text-lg">{items(count)}</h2>
      {mayDescribe && (
        <div className="flex flex-wrap gap-2">
          <Button icon={<ListOrdered size={16} />} onClick={() => setAsked("titles")}>
            Titles by a pattern…
          </Button>
          <Button icon={<Clock size={16} />} onClick={() => setAsked("clock")}>
            Clock…
          </Button>
          <Button icon={<Copy size={16} />} onClick={() => setAsked("like one")}>
            Describe them like one…
          </Button>
          <Button icon={<Table size={16} />} onClick={() => setAsked("table")}>
            As a table…
          </Button>
        </div>
      )}
      <TagEntry brand={brand} selection={asSelection} count={tags?.items ?? count} tags={tags?.tags ?? []} may={mayDescribe} />
      {!words && (
        <p className="text-ink-soft" role="status">
          Comparing what they say…
        </p>
      )}
      {words && words.fields.length === 0 && (
        <p className="text-dense text-ink-soft">So many items are not compared word by word. Whatever you write asks first.</p>
      )}
      {compared &&
        fields.map((f) => (
          <div key={f.name} className="space-y-4">
            {f.begins && <h3 className="border-t border-line pt-3 text-base">{f.begins}</h3>}
            {mayDescribe ? (
              <ManyField
                key={JSON.stringify(selection)}
                brand={brand}
                selection={selection}
                count={count}
                field={f}
                summary={summary(f.name)}
              />
            ) : (
              <Said label={f.label} text={summaryOf(summary(f.name), (text) => shown(f.name, text))} />
            )}
          </div>
        ))}
      {asked === "titles" && <TitlesDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "like one" && <TakeOverDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "table" && <TableDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "clock" && <ClockDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
    </section>
  );
}

const summaryOf = (s: { same: string; different: number } | undefined, shown: (text: string) => string) =>
  s && (s.different > 1 ? `${s.different.toLocaleString("en-GB")} different` : shown(s.same));

function Said({ label, text }: { label: string; text: string | undefined }) {
  if (!text) return null;
  return (
    <div>
      <h3 className="mb-0.5 text-dense font-medium text-ink-soft">{label}</h3>
      <p className="break-words whitespace-pre-wrap">{text}</p>
    </div>
  );
}
