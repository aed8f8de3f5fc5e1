import { useEffect, useRef } from "react";
import { useDownloads } from "~/api/queries";
import { tell, warn } from "~/kit/notes";
import { plural } from "~/kit/words";

/** Making is, in the strap, how far my downloads are; it says when one can be saved, or could not be made. */
export function Making({ brand }: { brand: string }) {
  const downloads = useDownloads(brand).data;
  const watched = useRef(new Set<number>());
  useEffect(() => {
    for (const d of downloads ?? []) {
      if (d.state === "making") watched.current.add(d.id);
      else if (watched.current.delete(d.id)) {
        const failed = d.failed > 0 ? ` ${plural(d.failed, "file")} could not be made; Send out says why.` : "";
        if (d.state === "stopped") continue;
        if (d.state === "ready" && d.place) tell(`${plural(d.made, "file")} put into “${d.place}” / ${d.path}.${failed}`);
        else if (d.state === "ready")
          tell(`${plural(d.made, "file")} made.${failed}`, {
            label: "Save the ZIP",
            run: () => window.location.assign(`/downloads/${brand}/${d.code}`),
          });
        else warn(`None of ${plural(d.total, "file")} could be made; Send out says why.`);
      }
    }
  }, [brand, downloads]);
  const now = downloads?.filter((d) => d.state === "making").at(-1);
  if (!now) return null;
  return (
    <span className="flex min-w-0 items-center gap-2" data-making={now.total - now.made}>
      <span className="truncate">Making files</span>
      <progress className="w-20" max={now.total} value={now.made + now.failed} aria-label="Making files" />
      <span className="text-dense whitespace-nowrap">
        {(now.made + now.failed).toLocaleString("en-GB")} of {now.total.toLocaleString("en-GB")}
      </span>
    </span>
  );
}
