import { clsx } from "clsx";
import { mediaAddress, type AssetRow } from "~/api/client";
import { titleOf } from "~/kit/words";

/** Side is one of two items that are looked at beside each other. */
export function Side({ brand, row, heading, low }: { brand: string; row: AssetRow; heading: string; low?: boolean }) {
  return (
    <figure className="min-w-0">
      <figcaption className="mb-1 text-dense text-ink-soft">{heading}</figcaption>
      <div className={clsx("rounded bg-sunk", low ? "h-32" : "h-64")}>
        <img src={mediaAddress(brand, row, "medium")} alt={row.alt || titleOf(row)} className="size-full object-contain" />
      </div>
      <p className="mt-1 truncate" title={row.fileName}>
        {titleOf(row)}
      </p>
    </figure>
  );
}
