import { ChevronLeft, ChevronRight } from "lucide-react";
import type { ReactNode } from "react";
import { mediaAddress, type Asset } from "~/api/client";
import { IconButton } from "~/kit/IconButton";
import { titleOf } from "~/kit/words";

/** OneOf shows one item of a selection, and goes to the one before and the next. */
export function OneOf({
  brand,
  asset,
  at,
  of,
  onAt,
  children,
}: {
  brand: string;
  asset: Asset;
  at: number;
  of: number;
  onAt: (at: number) => void;
  children?: ReactNode;
}) {
  return (
    <div className="mt-3 flex items-center gap-3">
      <IconButton label="The one before" icon={<ChevronLeft size={18} />} disabled={at === 0} onClick={() => onAt(at - 1)} />
      <img src={mediaAddress(brand, asset, "small")} alt="" className="h-14 w-16 rounded-sm object-contain" />
      <div className="min-w-0 flex-1 text-dense">
        <p className="truncate font-medium">{titleOf(asset)}</p>
        <p className="text-ink-soft">{children}</p>
      </div>
      <IconButton label="The next one" icon={<ChevronRight size={18} />} disabled={at >= of - 1} onClick={() => onAt(at + 1)} />
    </div>
  );
}
