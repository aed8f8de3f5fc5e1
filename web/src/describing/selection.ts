import type { Selection } from "~/api/client";

/** ForSelection is what a dialog about a selection is given; count is how many items that are. */
export interface ForSelection {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}
