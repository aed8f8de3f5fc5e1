import { ChevronDown, X } from "lucide-react";
import { Fragment, useEffect, useState } from "react";
import { type Selection } from "~/api/client";
import { useSize } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { bytes } from "~/kit/words";
import { useOffers } from "~/sheet/offers";
import { useStep } from "~/sheet/place";
import { asSelection, selectNothing, useChosen, useCount } from "~/sheet/selection";

/** From so many offers on the first ones leave the rest to the menu. */
const buttons = 2;

/** SelectionBar is what is selected and what can be done with it: what the present step offers first as buttons, the rest
 * in a menu. It never scrolls away. */
export function SelectionBar({ brand, carry }: { brand: string; carry?: () => void }) {
  const step = useStep();
  const count = useCount();
  const mode = useChosen((s) => s.mode);
  const size = useSelectionSize(brand);
  const offers = useOffers()
    .map((o) => o.offers.filter((x) => count > 0 || x.always))
    .filter((list) => list.length > 0);
  const first = offers
    .flat()
    .filter((o) => o.first?.includes(step))
    .slice(0, buttons);
  const rest = offers.map((list) => list.filter((o) => !first.includes(o))).filter((list) => list.length > 0);
  const put = `Put ${count.toLocaleString("en-GB")} in the satchel`;
  const onPhone = [...first.map((o) => [o]), ...(carry && count > 0 ? [[{ label: put, run: carry }]] : [])];
  const menu = (lists: typeof offers) =>
    lists.flatMap((list, i) => [
      ...(i > 0 ? [null] : []),
      ...list.map((o) => ({ label: o.label, icon: o.icon, danger: o.danger, onSelect: o.run })),
    ]);
  if (count === 0 && offers.length === 0) return null;
  return (
    <div role="toolbar" aria-label="Selection" className="flex items-center gap-2 whitespace-nowrap">
      <span className="contents max-md:hidden">
        {first.map((o) => (
          <Fragment key={o.label}>
            <Button tone={o.danger ? "danger" : "plain"} icon={o.icon} className="max-md:hidden" onClick={o.run}>
              {o.label}
            </Button>
          </Fragment>
        ))}
        {carry && count > 0 && (
          <Button tone="strap" className="max-md:hidden" onClick={carry}>
            {put}
          </Button>
        )}
      </span>
      {rest.length > 0 && (
        <span className="max-md:hidden">
          <Menu
            trigger={
              <Button className="max-md:hidden">
                More <ChevronDown size={16} aria-hidden="true" />
              </Button>
            }
            items={menu(rest)}
          />
        </span>
      )}
      {onPhone.length + rest.length > 0 && (
        <span className="md:hidden">
          <Menu
            trigger={
              <Button aria-label="More: what to do with the selection">
                More <ChevronDown size={16} aria-hidden="true" />
              </Button>
            }
            items={menu([onPhone.flat(), ...rest])}
          />
        </span>
      )}
      {count > 0 && (
        <>
          <span data-selected={count}>
            {count.toLocaleString("en-GB")} selected {/* as wide before it is known, so that no button moves from under the pointer */}
            <span className="inline-block w-20 max-xl:hidden">{size !== undefined && `· ${bytes(size)}`}</span>
          </span>
          {mode && <span className="text-small text-ink-soft md:hidden">tap adds</span>}
          <IconButton label="Select nothing" icon={<X size={18} />} onClick={selectNothing} />
        </>
      )}
    </div>
  );
}

/** How long a selection stays the same until it is sized up. */
const settles = 250;

/** useSelectionSize is how many bytes the selection has, once it has stayed the same for a moment; never those of another one. */
function useSelectionSize(brand: string) {
  const selected = useChosen((s) => s.selected);
  const wholly = useChosen((s) => s.wholly);
  const [settled, setSettled] = useState<{ of: Set<number>; selection: Selection }>();
  useEffect(() => {
    const timer = setTimeout(() => setSettled(selected.size > 0 ? { of: selected, selection: asSelection() } : undefined), settles);
    return () => clearTimeout(timer);
  }, [selected, wholly]);
  const size = useSize(brand, settled?.selection ?? { ids: [] }, settled !== undefined).data;
  return settled?.of === selected ? size?.bytes : undefined;
}
