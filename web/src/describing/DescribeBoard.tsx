import { Link } from "@tanstack/react-router";
import { FileUp } from "lucide-react";
import { useState } from "react";
import type { Me } from "~/api/client";
import { useOverview } from "~/api/queries";
import { Button } from "~/kit/Button";
import { useKeys } from "~/kit/keys";
import { useBrand, useGo } from "~/sheet/place";
import { useOffer } from "~/sheet/offers";
import { useMay } from "~/sheet/rights";
import { FirstStep } from "~/sheet/FirstStep";
import { useChosen, useCount } from "~/sheet/selection";
import { Card } from "./Card";
import { useNextLacking } from "./Lacking";
import { CardOfMany } from "./CardOfMany";
import { TableDialog } from "./TableDialog";

/** DescribeBoard is the card of what is selected. */
export function DescribeBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const { goTo } = useGo();
  const selected = useChosen((s) => s.selected);
  const next = useNextLacking(brand);
  const counts = useOverview(brand).data;
  const waiting = counts?.undescribed;
  const empty = counts?.everything === 0;
  useKeys("Describe", [
    { press: "t", does: "type tags for the selection", run: () => document.querySelector<HTMLElement>("[data-tag-entry]")?.focus() },
  ]);
  const count = useCount();
  const [bringing, setBringing] = useState(false);
  const may = useMay(me)("describe");
  useOffer(
    "Describe",
    may
      ? [
          {
            label: `Tag ${count.toLocaleString("en-GB")}…`,
            first: ["describe"],
            run: () => document.querySelector<HTMLElement>("[data-tag-entry]")?.focus(),
          },
        ]
      : [],
  );
  if (selected.size === 0)
    return (
      <section>
        <h2 className="mb-2 text-lg">Describe</h2>
        {empty ? (
          <FirstStep me={me}>Titles, alt text, credit and tags of your pictures are written here, for one or for many at once.</FirstStep>
        ) : (
          <p className="text-ink-soft">
            {may
              ? "Select one item to give it a title, alt text and tags, or several to describe them together."
              : "Select an item to read what is known of it."}
          </p>
        )}
        {!!waiting && (
          <Button className="mt-3" onClick={() => goTo({ place: "undescribed" })}>
            Show the {waiting.toLocaleString("en-GB")} that {waiting === 1 ? "lacks" : "lack"} something
          </Button>
        )}
        {may && !empty && (
          <Button className="mt-3" icon={<FileUp size={16} />} onClick={() => setBringing(true)}>
            Bring a table back…
          </Button>
        )}
        {bringing && <TableDialog brand={brand} count={0} onClose={() => setBringing(false)} />}
        {may && !empty && (
          <p className="mt-4">
            <Link to="/b/$brand/people-shown" params={{ brand }} search={{ person: undefined }} className="text-sea underline">
              See who is shown, and name faces
            </Link>
          </p>
        )}
        {me.can.includes("closed_tags") && !empty && (
          <p className="mt-2">
            <Link to="/b/$brand/tags" params={{ brand }} className="text-sea underline">
              Keep the tags in order
            </Link>
          </p>
        )}
      </section>
    );
  if (selected.size === 1) return <Card key={[...selected][0]} brand={brand} me={me} id={[...selected][0]!} onNext={() => void next()} />;
  return <CardOfMany brand={brand} me={me} />;
}
