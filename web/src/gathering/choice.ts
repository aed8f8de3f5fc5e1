import { useCallback } from "react";
import type { Schema } from "~/api/client";
import { useOrder } from "~/sheet/order";
import { useChosen } from "~/sheet/selection";

/** useChoice says by what the selection was chosen: the place with its filters, and whether all that it shows is selected. Everything
 * there is, and an album, were not chosen by anything. */
export function useChoice(): () => Schema["AlbumChoice"] | undefined {
  const { query } = useOrder();
  return useCallback(() => {
    const { filter, place, id, below } = query;
    if (place === "album" || place === "bin" || (place === "everything" && !filter)) return undefined;
    const { selected, ids, wholly, except } = useChosen.getState();
    const whole = wholly ? except.size === 0 : selected.size === ids.length;
    if (!filter && !whole) return undefined; // some of what lives in a folder, picked by hand
    return { query: { place, id, below, filter }, whole };
  }, [query]);
}
