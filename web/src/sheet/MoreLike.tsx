import { ScanSearch } from "lucide-react";
import { only } from "./filters";
import { useOffer } from "./offers";
import { useGo } from "./place";
import { inOrder, useCount } from "./selection";

/** MoreLike offers to show what looks like the one that is selected: by its shapes and its colours, the most alike first. */
export function MoreLike() {
  const { goTo } = useGo();
  const count = useCount();
  const show = () => {
    const id = inOrder()[0];
    if (id) goTo({ place: "everything", filter: only("like", { ids: [id] }), sort: "fit", descending: false });
  };
  useOffer("Alike", count === 1 ? [{ label: "Show more like this", icon: <ScanSearch size={16} />, run: show }] : []);
  return null;
}
