import { useAlbums, useFacets, useFolders, useMe, useStages, useTags } from "~/api/queries";
import {
  formatNames,
  needNames,
  period,
  periodName,
  shownNames,
  sourceNames,
  stateNames,
  soon,
  everDays,
  whoBrought,
  type Field,
  type Rule,
} from "../filters";
import { useBrand } from "../place";
import { Picker } from "./Picker";
import { sides } from "./kinds";

type Change = (rule: Rule) => void;

const box = "rounded-patch border border-line-strong bg-card px-2 py-1";

/** Condition edits one comparison. */
export function Condition({ rule, onChange }: { rule: Rule; onChange: Change }) {
  switch (rule.field) {
    case "stars":
      return <Stars rule={rule} onChange={onChange} />;
    case "taken":
    case "added":
      return <Days rule={rule} onChange={onChange} />;
    case "tag":
    case "folder":
    case "album":
    case "stage":
      return <Things rule={rule} onChange={onChange} />;
    case "words":
      return (
        <input
          aria-label="Words"
          className={`${box} min-w-0 flex-1`}
          value={rule.names?.[0] ?? ""}
          maxLength={200}
          onChange={(e) => onChange({ ...rule, names: [e.target.value] })}
        />
      );
    case "colour":
      return (
        <>
          <input
            type="color"
            aria-label="Colour"
            className="h-8 w-12 rounded border border-line-strong bg-card p-0.5"
            value={rule.names?.[0] ?? "#808080"}
            onChange={(e) => onChange({ ...rule, names: [e.target.value] })}
          />
          <AtLeast
            label="Percent at least"
            unit="% of the picture or more"
            value={rule.from ?? 10}
            onChange={(n) => onChange({ ...rule, from: Math.min(100, Math.max(1, Math.round(n))) })}
          />
        </>
      );
    case "bytes":
      return (
        <AtLeast
          label="Megabytes at least"
          unit="MB or more"
          value={(rule.from ?? 0) / 1e6}
          onChange={(n) => onChange({ ...rule, from: Math.round(n * 1e6) })}
        />
      );
    case "longer":
    case "width":
    case "height":
      return (
        <>
          <Choose
            label="Which side"
            value={rule.field}
            options={sides.map((s) => [s, { longer: "longer side", width: "width", height: "height" }[s as "width"]])}
            onChange={(field) => onChange({ ...rule, field: field as Field })}
          />
          <AtLeast
            label="Pixels at least"
            unit="px or more"
            value={rule.from ?? 0}
            onChange={(n) => onChange({ ...rule, from: Math.round(n) })}
          />
        </>
      );
    case "kind":
    case "source":
    case "consent":
    case "lacks":
    case "state":
      return (
        <Choose
          label="Which"
          value={rule.names?.[0] ?? ""}
          options={Object.entries(namesOf[rule.field])}
          onChange={(name) => onChange({ ...rule, names: [name] })}
        />
      );
    case "format":
      return (
        <Choose
          label="Which"
          value={rule.names?.[0] ?? ""}
          options={Object.entries(formatNames)}
          onChange={(name) => onChange({ ...rule, names: [name] })}
        />
      );
    case "by":
      return <Who rule={rule} onChange={onChange} />;
    case "camera":
    case "place":
      return <Known rule={rule} onChange={onChange} />;
    case "rights":
      return <Rights rule={rule} onChange={onChange} />;
  }
  return null;
}

const namesOf = {
  kind: {
    picture: "pictures",
    clip: "clips",
    animation: "animations",
    vector: "vector drawings",
    document: "documents",
    file: "other files",
  },
  source: sourceNames,
  consent: shownNames,
  lacks: needNames,
  state: stateNames,
} as const;

function Choose({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: (readonly [value: string, label: string])[];
  onChange: (value: string) => void;
}) {
  return (
    <select aria-label={label} className={box} value={value} onChange={(e) => onChange(e.target.value)}>
      {options.map(([v, l]) => (
        <option key={v} value={v}>
          {l}
        </option>
      ))}
    </select>
  );
}

function AtLeast({ label, unit, value, onChange }: { label: string; unit: string; value: number; onChange: (n: number) => void }) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="number"
        aria-label={label}
        min={0}
        className={`${box} w-24`}
        value={value}
        onChange={(e) => e.target.value !== "" && onChange(Math.max(0, Number(e.target.value)))}
      />
      {unit}
    </label>
  );
}

function Stars({ rule, onChange }: { rule: Rule; onChange: Change }) {
  const how = rule.from === rule.to ? "exactly" : rule.to === 5 || rule.to === undefined ? "least" : "most";
  const n = (how === "most" ? rule.to : rule.from) ?? 0;
  const put = (to: string, stars: number) => onChange({ field: "stars", from: to === "most" ? 0 : stars, to: to === "least" ? 5 : stars });
  return (
    <>
      <Choose
        label="How many"
        value={how}
        options={[
          ["least", "at least"],
          ["exactly", "exactly"],
          ["most", "at most"],
        ]}
        onChange={(to) => put(to, n)}
      />
      <Choose
        label="Stars"
        value={String(n)}
        options={[0, 1, 2, 3, 4, 5].map((s) => [String(s), s === 0 ? "no stars" : `${s} ★`])}
        onChange={(s) => put(how, Number(s))}
      />
    </>
  );
}

/** Days are a span that moves, a year, month or day, two days, or none. */
function Days({ rule, onChange }: { rule: Rule; onChange: Change }) {
  const how = rule.last ? "last" : rule.missing && !rule.since && !rule.until ? "none" : "between";
  const field = rule.field;
  const put = (to: string) =>
    onChange(
      to === "last"
        ? { field, last: 30 }
        : to === "none"
          ? { field, missing: true }
          : { field, ...period(new Date().toISOString().slice(0, 4)) },
    );
  return (
    <>
      <Choose
        label="When"
        value={how}
        options={[["last", "in the last"], ["between", "between"], ...(field === "taken" ? ([["none", "undated"]] as const) : [])]}
        onChange={put}
      />
      {how === "last" && <HowManyDays days={rule.last!} onChange={(last) => onChange({ field, last })} />}
      {how === "between" && (
        <>
          <Day label="From" value={rule.since} onChange={(since) => onChange({ ...rule, since })} />
          and
          <Day label="To" value={rule.until} onChange={(until) => onChange({ ...rule, until })} />
        </>
      )}
    </>
  );
}

/** Day is taken once it is complete. */
function Day({ label, value, onChange }: { label: string; value?: string; onChange: (day: string | undefined) => void }) {
  return (
    <input
      type="date"
      aria-label={label}
      title={value ? periodName(value) : undefined}
      className={box}
      defaultValue={value}
      onChange={(e) =>
        !e.target.validity.badInput && (e.target.value === "" || e.target.value >= "1800") && onChange(e.target.value || undefined)
      }
    />
  );
}

function Things({ rule, onChange }: { rule: Rule; onChange: Change }) {
  const brand = useBrand();
  const tags = useTags(brand).data ?? [];
  const stages = useStages(brand).data ?? [];
  const folders = useFolders(brand).data ?? [];
  const albums = useAlbums(brand).data ?? [];
  const all = {
    tag: tags,
    stage: stages.map((s) => ({ ...s, uses: 0 })),
    folder: folders.map((f) => ({ id: f.id, name: f.name, uses: f.below })),
    album: albums.map((a) => ({ id: a.id, name: a.name, uses: a.items })),
  }[rule.field as "tag"];
  if (rule.field === "stage")
    return (
      <Choose
        label="Stage"
        value={String(rule.missing ? 0 : (rule.ids?.[0] ?? ""))}
        options={[["", "choose one"], ["0", "no stage"], ...stages.map((s) => [String(s.id), s.name] as const)]}
        onChange={(id) =>
          onChange(id === "" ? { field: "stage" } : id === "0" ? { field: "stage", missing: true } : { field: "stage", ids: [Number(id)] })
        }
      />
    );
  return (
    <>
      <Picker
        label={{ tag: "Tags", folder: "Folders", album: "Albums" }[rule.field as "tag"]}
        all={all}
        ids={rule.ids ?? []}
        onChange={(ids) => onChange({ ...rule, ids })}
      />
      {rule.field === "folder" && (
        <label className="flex items-center gap-1.5 text-dense">
          <input
            type="checkbox"
            className="size-4 accent-sea"
            checked={!!rule.below}
            onChange={(e) => onChange({ ...rule, below: e.target.checked })}
          />
          and below
        </label>
      )}
    </>
  );
}

/** Known is one of the cameras or places that there are, or none. */
function Known({ rule, onChange }: { rule: Rule; onChange: Change }) {
  const facets = useFacets(useBrand(), { place: "everything" }, true).data;
  const field = rule.field as "camera" | "place";
  const found = (field === "camera" ? facets?.cameras : facets?.places) ?? [];
  return (
    <Choose
      label={field === "camera" ? "Camera" : "Place"}
      value={rule.missing ? "none" : (rule.names?.[0] ?? "")}
      options={[["", "choose one"], ["none", `no ${field} known`], ...found.map((c) => [c.name, c.name] as const)]}
      onChange={(name) => onChange(name === "" ? { field } : name === "none" ? { field, missing: true } : { field, names: [name] })}
    />
  );
}

/** Who is one of those who brought something in, oneself first. */
function Who({ rule, onChange }: { rule: Rule; onChange: Change }) {
  const found = useFacets(useBrand(), { place: "everything" }, true).data?.by ?? [];
  const people = whoBrought(found, useMe().data?.id);
  return (
    <Choose
      label="Who"
      value={String(rule.ids?.[0] ?? "")}
      options={[["", "choose one"], ...people.map((p) => [String(p.value), p.name] as const)]}
      onChange={(id) => onChange({ field: "by", ids: id === "" ? [] : [Number(id)] })}
    />
  );
}

function Rights({ rule, onChange }: { rule: Rule; onChange: Change }) {
  return (
    <>
      <Choose
        label="End of rights"
        value={rule.missing ? "open" : rule.next ? "soon" : "ended"}
        options={[
          ["open", "no end"],
          ["soon", "end within"],
          ["ended", "have ended"],
        ]}
        onChange={(to) =>
          onChange(
            to === "open"
              ? { field: "rights", missing: true }
              : to === "soon"
                ? { field: "rights", next: soon }
                : { field: "rights", last: everDays },
          )
        }
      />
      {!!rule.next && <HowManyDays days={rule.next} onChange={(next) => onChange({ field: "rights", next })} />}
    </>
  );
}

function HowManyDays({ days, onChange }: { days: number; onChange: (days: number) => void }) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="number"
        aria-label="Days"
        min={1}
        max={everDays}
        className={`${box} w-20`}
        value={days}
        onChange={(e) => Number(e.target.value) >= 1 && onChange(Math.min(everDays, Math.round(Number(e.target.value))))}
      />
      days
    </label>
  );
}
