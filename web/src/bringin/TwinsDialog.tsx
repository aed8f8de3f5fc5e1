import { type Schema } from "~/api/client";
import { useTwins } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { plural } from "~/kit/words";
import { Side } from "~/sheet/Side";
import { decideTwins } from "./acts";

type Decision = Schema["TwinDecision"]["decision"];

/** TwinsDialog shows what looks alike side by side, with the differences in words. Nothing is done until one decides. */
export function TwinsDialog({ brand, intake, onClose }: { brand: string; intake?: number; onClose: () => void }) {
  const { data: pairs } = useTwins(brand, intake);
  const pair = pairs?.[0];
  const decide = (decision: Decision) => void decideTwins(brand, { later: pair!.later.id, earlier: pair!.earlier.id, decision });
  return (
    <Dialog
      wide
      title={pairs?.length ? `${plural(pairs.length, "possible duplicate")}` : "Possible duplicates"}
      about={
        pair &&
        (pair.laterState
          ? "The later one seems to have come back from another program as a later state of the earlier. Both stay until you decide."
          : "They look like the same photograph. Both stay until you decide.")
      }
      onClose={onClose}
    >
      {pairs?.length === 0 && <p className="text-ink-soft">Nothing here looks like anything else that you have not decided about.</p>}
      {pair && (
        <div data-twins>
          <div className="grid grid-cols-2 gap-3">
            <Side brand={brand} row={pair.earlier} heading="Here before" />
            <Side brand={brand} row={pair.later} heading="Came later" />
          </div>
          <p className="mt-3 font-medium">The later one is</p>
          <ul className="mb-3 list-disc pl-5">
            {pair.differences.length === 0 && <li>the same in everything that was compared</li>}
            {pair.differences.map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-2">
            {pair.laterState && (
              <Button tone="main" onClick={() => decide("stack")}>
                Stack them, the later in front
              </Button>
            )}
            <Button onClick={() => decide("different")}>Keep both</Button>
            <Button onClick={() => decide("version")}>Make the later one a new version</Button>
            {!pair.laterState && <Button onClick={() => decide("stack")}>Stack them</Button>}
            <Button tone="danger" onClick={() => decide("bin_later")}>
              Put the later one in the bin
            </Button>
            <Button tone="danger" onClick={() => decide("bin_earlier")}>
              Put the earlier one in the bin
            </Button>
          </div>
        </div>
      )}
    </Dialog>
  );
}
