import { mediaAddress } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { listed, titleOf } from "~/kit/words";

/** Small is an item as a small picture. */
export function Small({ brand, id, by }: { brand: string; id: number; by?: string[] }) {
  const row = useRow(id);
  if (!row) rows.want([id]);
  const title = row ? titleOf(row) : "";
  return (
    <span title={by ? `${title}, chosen by ${listed(by)}` : title} className="block h-14 min-w-10 overflow-hidden rounded bg-sunk">
      {row && <img src={mediaAddress(brand, row, "small")} alt={title} className="h-full" />}
    </span>
  );
}
