import { useGesture } from "@use-gesture/react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { mediaAddress, type AssetRow } from "~/api/client";
import { useAsset } from "~/api/queries";
import { tint, titleOf } from "~/kit/words";
import { bounded, fitted, panned, pixelForPixel, transformOf, zoomedAbout, type ZoomStore } from "./zoom";

/** What browsers show of an original as it is. */
const shownAsIs = ["image/jpeg", "image/png", "image/webp", "image/avif"];

/** Zoomed is a picture that is seen closer: with the wheel or two fingers, dragged about, and pixel for pixel by a double click.
 * From then on its original is shown where one may have that. */
export function Zoomed({
  brand,
  row,
  zoom,
  src,
  ratio,
  onTap,
  over,
}: {
  brand: string;
  row: AssetRow;
  zoom: ZoomStore;
  /** What is shown in the place of the item as it is kept, and its proportions. */
  src?: string;
  ratio?: number;
  /** Told where the picture was pressed, in fractions of it, while that means something; then it is not zoomed by a double click. */
  onTap?: (at: { x: number; y: number }) => void;
  /** Something that is drawn at this moment, over the picture. */
  over?: HTMLCanvasElement;
}) {
  const place = useRef<HTMLDivElement>(null);
  const cover = useRef<HTMLDivElement>(null);
  const picture = useRef<HTMLImageElement>(null);
  const [close, setClose] = useState(() => zoom.getState().scale > 1);
  const asset = useAsset(brand, row.id).data;
  const detail = useOriginal(
    !src && close && asset && shownAsIs.includes(asset.mediaType) && asset.may.includes("download") && !row.version.includes("-")
      ? mediaAddress(brand, row, "original")
      : undefined,
  );
  useEffect(() => {
    const show = () => {
      const z = zoom.getState();
      for (const seen of [picture.current, cover.current]) if (seen) seen.style.transform = transformOf(z);
      if (z.scale > 1) setClose(true);
    };
    show();
    return zoom.subscribe(show);
  }, [zoom]);
  useLayoutEffect(() => {
    if (!over || !cover.current || !picture.current) return;
    cover.current.replaceChildren(over);
    over.className = "block size-full";
    cover.current.style.width = `${picture.current.clientWidth}px`;
    cover.current.style.height = `${picture.current.clientHeight}px`;
    cover.current.style.transform = transformOf(zoom.getState());
  }, [over, ratio, zoom]);
  const sides = () => ({ width: picture.current?.clientWidth || 1, height: picture.current?.clientHeight || 1 });
  /** fromMiddle is how far a point of the screen is from the middle, in sides of the fitted picture. */
  const fromMiddle = (clientX: number, clientY: number) => {
    const box = place.current!.getBoundingClientRect();
    const { width, height } = sides();
    return [(clientX - box.x - box.width / 2) / width, (clientY - box.y - box.height / 2) / height] as const;
  };
  useGesture(
    {
      onDrag: ({ delta: [dx, dy], pinching }) => {
        const { width, height } = sides();
        if (!pinching && zoom.getState().scale > 1) zoom.setState(panned(zoom.getState(), dx / width, dy / height));
      },
      onWheel: ({ event, delta: [, dy] }) => {
        event.preventDefault();
        zoom.setState(zoomedAbout(zoom.getState(), Math.exp(-dy / 300), ...fromMiddle(event.clientX, event.clientY)));
      },
      onPinch: ({ delta: [by], origin: [x, y] }) => {
        const z = zoom.getState();
        zoom.setState(zoomedAbout(z, 1 + by / z.scale, ...fromMiddle(x, y)));
      },
      onClick: ({ event }) => {
        const box = picture.current?.getBoundingClientRect();
        if (!onTap || !box) return;
        const at = { x: (event.clientX - box.x) / box.width, y: (event.clientY - box.y) / box.height };
        if (at.x >= 0 && at.x <= 1 && at.y >= 0 && at.y <= 1) onTap(at);
      },
      onDoubleClick: ({ event }) => {
        if (onTap) return;
        const [dx, dy] = fromMiddle(event.clientX, event.clientY);
        look(zoom, row, picture.current, { x: 0.5 + dx, y: 0.5 + dy });
      },
    },
    { target: place, eventOptions: { passive: false }, drag: { filterTaps: true } },
  );
  return (
    <div
      ref={place}
      data-zoomed={row.id}
      className="absolute inset-0 grid touch-none place-items-center overflow-hidden"
      style={{ cursor: onTap ? "crosshair" : undefined }}
    >
      <img
        ref={picture}
        key={row.id}
        src={src ?? detail ?? mediaAddress(brand, row, "large")}
        alt={row.alt || titleOf(row)}
        draggable={false}
        style={{ backgroundColor: tint(row.tint), ...(src && ratio ? filling(place.current, ratio) : {}) }}
        className="col-start-1 row-start-1 max-h-full max-w-full min-h-0 object-contain will-change-transform"
      />
      {over && <div ref={cover} className="pointer-events-none col-start-1 row-start-1" data-painted="" aria-hidden="true" />}
    </div>
  );
}

/** filling is the size at which something of a proportion fits into its place, also when it has fewer pixels. */
function filling(place: HTMLElement | null, ratio: number) {
  if (!place) return {};
  const width = Math.min(place.clientWidth, place.clientHeight * ratio);
  return { width, height: width / ratio };
}

/** useOriginal gives the address of an original once all of it is here, so that what is seen until then stays. */
function useOriginal(address: string | undefined) {
  const [here, setHere] = useState<string>();
  useEffect(() => {
    if (!address) return;
    const image = new Image();
    image.src = address;
    let gone = false;
    image.decode().then(
      () => !gone && setHere(address),
      () => undefined, // the preview stays
    );
    return () => {
      gone = true;
    };
  }, [address]);
  return here === address ? here : undefined;
}

/** look sees a picture pixel for pixel around a point, or as a whole again. */
export function look(zoom: ZoomStore, row: AssetRow, picture: HTMLElement | null | undefined, at: { x: number; y: number }) {
  const closer = pixelForPixel(row.width, picture?.clientWidth || row.width);
  zoom.setState(zoom.getState().scale > 1 ? fitted : bounded({ scale: closer, ...at }));
}
