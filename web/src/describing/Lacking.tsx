import { messageOf, type Asset, type Schema } from "~/api/client";
import { useBrandSettings } from "~/api/queries";
import { Button } from "~/kit/Button";
import { useKeys } from "~/kit/keys";
import { tell, warn } from "~/kit/notes";
import { needNames } from "~/sheet/filters";
import { openBig, selectOnly, useChosen } from "~/sheet/selection";
import { lackingIn } from "./acts";
import { rightsSaid } from "./fields";

type Need = Schema["Need"];

/** lackingOf lists what an item lacks of what the brand asks for. */
const lackingOf = (asset: Asset, needs: Need[]) =>
  needs.filter((n) => (n === "tags" ? asset.tags.length === 0 : n === "taken" ? !asset.taken : !asset[n]));

/** useNextLacking goes to the next item of the sheet that lacks something, round the end to the first. */
export function useNextLacking(brand: string) {
  const needs = useBrandSettings(brand).data?.needs;
  const go = async () => {
    const { query, ids, cursor, open } = useChosen.getState();
    try {
      const lacking = await lackingIn(brand, query, needs ?? []);
      const here = ids.indexOf(open ?? cursor ?? -1);
      const others = lacking.filter((id) => id !== (open ?? cursor));
      const next = others.find((id) => ids.indexOf(id) > here) ?? others[0];
      if (next === undefined) return tell(lacking.length > 0 ? "Only this one lacks something here." : "Nothing here lacks anything.");
      if (open !== undefined) openBig(next);
      else selectOnly(next);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  useKeys("Describe", [{ press: "n", does: "go to the next item that lacks something", run: () => void go() }]);
  return go;
}

/** Lacking says what an item lacks, and when its rights end or have ended. */
export function Lacking({ brand, asset, onNext }: { brand: string; asset: Asset; onNext: () => void }) {
  const needs = useBrandSettings(brand).data?.needs ?? [];
  const lacks = lackingOf(asset, needs);
  const rights = rightsSaid(asset);
  return (
    <div className="space-y-2 text-dense">
      {rights && <p className={asset.rights === "ended" ? "font-medium text-tomato" : "text-ink-soft"}>{rights}</p>}
      {asset.against.map((said) => (
        <p key={said} className="font-medium text-tomato">
          {said}
        </p>
      ))}
      <div className="flex flex-wrap items-center gap-2">
        <p className="min-w-0 flex-1 text-ink-soft">
          {lacks.length > 0 ? `Lacks ${lacks.map((n) => needNames[n]).join(", ")}` : "Lacks nothing"}
        </p>
        <Button onClick={onNext}>Next that lacks something</Button>
      </div>
    </div>
  );
}
