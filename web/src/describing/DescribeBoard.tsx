import { useEffect, useMemo, useRef, useState } from "react";
import { messageOf, ProblemError, type Asset, type Me } from "~/api/client";
import { useAsset, useOverview, useSelectionTags } from "~/api/queries";
import { Button } from "~/kit/Button";
import { TextArea, TextField } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { items, titleOf } from "~/kit/words";
import { type Fact, Facts, FileSays, LeftFile, Stack } from "~/sheet/FileFacts";
import { useBrand, useGo } from "~/sheet/place";
import { useOffer } from "~/sheet/offers";
import { useMay } from "~/sheet/rights";
import { FirstStep } from "~/sheet/FirstStep";
import { asSelection, inOrder, useChosen, useCount } from "~/sheet/selection";
import { TagEntry } from "./TagEntry";
import { describe } from "./acts";

/** DescribeBoard is the card of one item, or the tags of several. */
export function DescribeBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const { goTo } = useGo();
  const selected = useChosen((s) => s.selected);
  const counts = useOverview(brand).data;
  const waiting = counts?.undescribed;
  const empty = counts?.everything === 0;
  useKeys("Describe", [
    { press: "t", does: "type tags for the selection", run: () => document.querySelector<HTMLElement>("[data-tag-entry]")?.focus() },
  ]);
  const count = useCount();
  useOffer("Describe", [
    {
      label: `Tag ${count.toLocaleString("en-GB")}…`,
      first: ["describe"],
      run: () => document.querySelector<HTMLElement>("[data-tag-entry]")?.focus(),
    },
  ]);
  if (selected.size === 0)
    return (
      <section>
        <h2 className="mb-2 text-lg">Describe</h2>
        {empty ? (
          <FirstStep me={me}>Titles, alt text, credit and tags of your pictures are written here, for one or for many at once.</FirstStep>
        ) : (
          <p className="text-ink-soft">Select one item to give it a title, alt text and tags, or several to tag them together.</p>
        )}
        {!!waiting && (
          <Button className="mt-3" onClick={() => goTo({ place: "undescribed" })}>
            Show the {waiting} without title or alt text
          </Button>
        )}
      </section>
    );
  if (selected.size === 1) return <Card key={[...selected][0]} brand={brand} me={me} id={[...selected][0]!} />;
  return <Several brand={brand} me={me} />;
}

function Several({ brand, me }: { brand: string; me: Me }) {
  const count = useCount();
  const selected = useChosen((s) => s.selected);
  const wholly = useChosen((s) => s.wholly);
  const selection = useMemo(asSelection, [selected, wholly]);
  const may = useMay(me);
  const summary = useSelectionTags(brand, selection).data;
  return (
    <section>
      <h2 className="mb-3 text-lg">{items(count)}</h2>
      <TagEntry brand={brand} selection={asSelection} count={summary?.items ?? count} tags={summary?.tags ?? []} may={may("describe")} />
    </section>
  );
}

type FieldName = "title" | "alt" | "description" | "credit" | "copyright";

function Card({ brand, me, id }: { brand: string; me: Me; id: number }) {
  const { data: asset } = useAsset(brand, id);
  if (!asset) return <p className="text-ink-soft">Loading the card…</p>;
  const may = asset.may.includes("describe");
  return (
    <section className="space-y-4">
      <h2 className="text-lg break-words">{titleOf(asset)}</h2>
      <Words brand={brand} asset={asset} name="title" label="Title" may={may} />
      <Words brand={brand} asset={asset} name="alt" label="Alt text" long may={may} hint="What somebody should know who cannot see it" />
      <TagEntry brand={brand} selection={() => ({ ids: inOrder() })} count={1} tags={asset.tags} may={may} />
      <Words brand={brand} asset={asset} name="description" label="Description" long may={may} />
      <Words brand={brand} asset={asset} name="credit" label="Credit" may={may} />
      <Words brand={brand} asset={asset} name="copyright" label="Copyright" may={may} />
      <LeftFile brand={brand} asset={asset} may={may} />
      <Stack brand={brand} asset={asset} may={asset.may.includes("file")} />
      <About asset={asset} seesAll={me.everywhere.includes("look")} />
      <FileSays brand={brand} id={id} />
    </section>
  );
}

/** Words is one text of an item. It saves itself when one leaves it or stops typing, and tells when somebody else has
 * written there meanwhile. */
function Words({
  brand,
  asset,
  name,
  label,
  long,
  may,
  hint,
}: {
  brand: string;
  asset: Asset;
  name: FieldName;
  label: string;
  long?: boolean;
  may: boolean;
  hint?: string;
}) {
  const [draft, setDraft] = useState<string>();
  const [state, setState] = useState<"" | "saved">("");
  const [problem, setProblem] = useState<ProblemError["problem"] | { detail: string; theirs?: undefined }>();
  const revision = useRef(asset.revision);
  const typing = draft !== undefined;
  const undecided = problem?.theirs !== undefined; // nothing is written until one has said whose words stay
  const turn = useRef(0); // an answer counts only if nothing was written or decided after its question
  useEffect(() => {
    if (!typing) revision.current = asset.revision; // what one sees while typing is what one began from
  }, [typing, asset.revision]);
  const save = async (text: string, from: number) => {
    const mine = ++turn.current;
    try {
      await describe(brand, asset.id, from, name, text);
      if (mine !== turn.current) return;
      setProblem(undefined);
      setState("saved");
      setDraft((d) => (d === text ? undefined : d));
    } catch (error) {
      if (mine !== turn.current) return;
      setProblem(error instanceof ProblemError ? error.problem : { detail: messageOf(error) });
    }
  };
  const latest = useRef(save);
  useEffect(() => {
    latest.current = save;
  });
  useEffect(() => {
    if (draft === undefined || draft === asset[name] || undecided) return;
    const timer = setTimeout(() => void latest.current(draft, revision.current), 900);
    return () => clearTimeout(timer);
  }, [draft, asset, name, undecided]);
  if (!may)
    return asset[name] ? (
      <div data-field={name}>
        <h3 className="mb-0.5 text-dense font-medium text-ink-soft">{label}</h3>
        <p className="break-words whitespace-pre-wrap">{asset[name]}</p>
      </div>
    ) : null;
  const shared = {
    label: state === "saved" && !typing ? `${label} · Saved` : label,
    "aria-label": label,
    hint,
    problem: problem?.detail,
    value: draft ?? asset[name],
    onChange: (e: { target: { value: string } }) => {
      setDraft(e.target.value);
      setState("");
    },
    onBlur: () => draft !== undefined && draft !== asset[name] && !undecided && void save(draft, revision.current),
  };
  return (
    <div data-field={name}>
      {long ? <TextArea rows={3} {...shared} /> : <TextField {...shared} />}
      {undecided && (
        <div className="mt-1 rounded-patch bg-saffron-wash p-2 text-dense">
          <p>It says now: “{problem.theirs}”</p>
          <div className="mt-1 flex gap-2">
            <Button
              onClick={() => {
                turn.current++;
                setDraft(undefined);
                setProblem(undefined);
              }}
            >
              Take theirs
            </Button>
            <Button onClick={() => void save(draft!, asset.revision)}>Keep mine</Button>
          </div>
        </div>
      )}
    </div>
  );
}

function About({ asset, seesAll }: { asset: Asset; seesAll: boolean }) {
  const { goTo } = useGo();
  const more: Fact[] = [];
  if (asset.folderPath || seesAll)
    more.push([
      "Lives in",
      <button
        key="folder"
        type="button"
        className="text-left text-sea underline"
        onClick={() => goTo(asset.folder ? { place: "folder", id: asset.folder } : { place: "unfiled" })}
      >
        {asset.folderPath ?? "Unfiled"}
      </button>,
    ]);
  if (asset.albums.length > 0) more.push(["Albums", asset.albums.map((a) => a.name).join(", ")]);
  if (asset.galleries.length > 0)
    more.push([
      "Shown in",
      <span key="live" className="text-plum">
        {asset.galleries.join(", ")}
      </span>,
    ]);
  return (
    <div className="border-t border-line pt-3">
      <Facts asset={asset} more={more} />
    </div>
  );
}
