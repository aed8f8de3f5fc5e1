import { useRouter } from "@tanstack/react-router";
import { useEffect, useRef } from "react";
import { useItem } from "~/sheet/place";
import { openBig, useChosen } from "~/sheet/selection";

/** useOpenItem keeps the item that is seen big in the address: a reload keeps it, Back closes it, and whoever gets the address sees it.
 * Opening one is a step of the browser's history, the next one takes its place there, and closing it goes back. */
export function useOpenItem(ids: number[] | undefined) {
  const router = useRouter();
  const item = useItem();
  const open = useChosen((s) => s.open);
  const was = useRef(open);
  const opened = useRef<number>(undefined); // the step of the history with which one was opened
  const there = ids !== undefined;
  useEffect(() => {
    const before = was.current;
    was.current = open;
    const { location } = router.state;
    const inAddress = (location.search as { item?: number }).item;
    const index = location.state.__TSR_index;
    if (open === inAddress || (before === open && (item !== undefined || open === undefined))) return;
    if (open === undefined && opened.current === index) {
      router.history.back();
      return;
    }
    const first = before === undefined && inAddress === undefined;
    const search = { ...location.search, item: open } as never;
    void router.navigate({ to: location.pathname, search, replace: !first });
    if (first) opened.current = index + 1;
    // the address is asked when one is opened or closed, and answered to below
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [open]);
  const asked = useRef<number>(undefined);
  useEffect(() => {
    if (!there || (item === undefined && asked.current === undefined)) return;
    asked.current = item;
    if (item === was.current) return;
    // an item of which the place is not loaded yet may be here; one that is not is not opened
    if (item === undefined || ids.includes(item) || ids.some((id) => id < 0)) openBig(item);
    // when the address changes, or the sheet is there for the first time, and not whenever what it shows changes
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [item, there]);
}
