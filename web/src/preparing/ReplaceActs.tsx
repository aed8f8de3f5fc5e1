import { clsx } from "clsx";
import { later } from "~/kit/later";
import { Replace as ReplaceIcon } from "lucide-react";
import { useEffect, useRef, useState, type ReactNode } from "react";
import type { Me } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { titleOf } from "~/kit/words";
import { useOffer, type Offer } from "~/sheet/offers";
import { useBrand, usePlace } from "~/sheet/place";
import { useMay } from "~/sheet/rights";
import { filesTarget } from "~/sheet/drag";
import { inOrder, useCount } from "~/sheet/selection";
import { askToReplace } from "./replacing";

const Replace = later(async () => (await import("./Replace")).Replace);

/** ReplaceActs offers to put other files in the place of what is selected. */
export function ReplaceActs({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const count = useCount();
  const may = useMay(me)("prepare") && place.place !== "bin";
  const icon = <ReplaceIcon size={16} />;
  const withFile = () => {
    const of = inOrder()[0];
    if (of !== undefined) askToReplace({ with: "a file", of, folder: rows.get(of)?.folder });
  };
  const withOther = () => {
    const [one, two] = inOrder();
    if (one !== undefined && two !== undefined) askToReplace({ with: "another", pair: [one, two] });
  };
  const offers: (Offer | false)[] = [
    may && count === 1 && { label: "Replace its file…", icon, first: ["prepare"], run: withFile },
    may && count === 2 && { label: "Replace one by the other…", icon, run: withOther },
    may && count > 0 && { label: "Replace items of the same name…", icon, run: () => askToReplace({ with: "namesakes" }) },
  ];
  useOffer(
    "Replacing",
    offers.filter((o) => o !== false),
  );
  return <Replace brand={brand} />;
}

/** ReplaceByDropping takes a file that is dropped on an item which is seen big, to put it in its place. */
export function ReplaceByDropping({ id, may, children }: { id: number; may: boolean; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState(false);
  const row = useRow(id);
  const folder = row?.folder;
  useEffect(() => {
    if (!may || !box.current) return;
    return filesTarget(box.current, setOver, (dropped) => askToReplace({ with: "a file", of: id, folder, dropped }));
  }, [may, id, folder]);
  return (
    <div ref={box} className="relative flex min-h-0 flex-1 flex-col">
      {children}
      {over && row && (
        <p
          className={clsx(
            "pointer-events-none absolute inset-4 z-10 grid place-items-center rounded-xl",
            "border-2 border-dashed border-saffron bg-saffron-wash text-lg",
          )}
        >
          Put this file in the place of “{titleOf(row)}”
        </p>
      )}
    </div>
  );
}
