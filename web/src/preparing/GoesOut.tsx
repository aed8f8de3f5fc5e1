import { useEffect, useState } from "react";
import { type AssetRow } from "~/api/client";
import { useOutputSizes } from "~/api/queries";
import { bytes, titleOf } from "~/kit/words";
import { setMode, useMode } from "./mode";

/** Sizes chooses in which output size the picture is looked at. */
export function Sizes({ brand }: { brand: string }) {
  const sizes = useOutputSizes(brand).data ?? [];
  const size = useMode((s) => s.size);
  if (sizes.length === 0) return null;
  return (
    <select
      aria-label="Look at it"
      className="max-w-44 max-md:max-w-28 rounded-patch border border-line-strong bg-card px-1.5 py-1 text-dense"
      value={size ?? 0}
      onChange={(e) => setMode({ size: Number(e.target.value) || undefined, framing: undefined })}
    >
      <option value={0}>large</option>
      {sizes.map((s) => (
        <option key={s.id} value={s.id}>
          as it goes out: {s.name}
        </option>
      ))}
    </select>
  );
}

/** AsItGoesOut is the very file that an output size makes, pixel for pixel, with its bytes. */
export function AsItGoesOut({ brand, row, size, saved }: { brand: string; row: AssetRow; size: number; saved: boolean }) {
  const [file, setFile] = useState<{ address: string; bytes: number; width: number; height: number; film: boolean } | string>();
  useEffect(() => {
    if (!saved) return;
    let made: string | undefined;
    let gone = false;
    void (async () => {
      const ask = () => fetch(`/media/${brand}/${row.code}/out-${size}?v=${row.version}`);
      let answer = await ask();
      while (answer.status === 503 && !gone) {
        await new Promise((go) => window.setTimeout(go, 1000)); // it is still being made
        answer = await ask();
      }
      if (!answer.ok) {
        const problem = (await answer.json()) as { detail?: string };
        if (!gone) setFile(problem.detail ?? "It could not be made.");
        return;
      }
      const blob = await answer.blob();
      made = URL.createObjectURL(blob);
      const film = blob.type.startsWith("video/");
      const { width, height } = await (film ? sidesOfFilm(made) : sidesOfPicture(made));
      if (!gone) setFile({ address: made, bytes: blob.size, width, height, film });
    })();
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [brand, row.code, row.version, size, saved]);
  if (typeof file === "string") return <p className="p-6 text-center">{file}</p>;
  if (!file) return <p className="p-6 text-center">Making it…</p>;
  return (
    <div className="absolute inset-0 overflow-auto" data-goes-out={size}>
      {file.film ? (
        <video
          src={file.address}
          controls
          className="mx-auto max-w-none"
          style={{ width: file.width / window.devicePixelRatio, height: file.height / window.devicePixelRatio }}
          aria-label={titleOf(row)}
        />
      ) : (
        <img
          src={file.address}
          alt={row.alt || titleOf(row)}
          className="mx-auto max-w-none"
          style={{ width: file.width / window.devicePixelRatio, height: file.height / window.devicePixelRatio }}
        />
      )}
      <p className="sticky bottom-2 left-0 mx-auto w-fit rounded-patch bg-card px-2 text-dense">
        {file.width.toLocaleString("en-GB")} × {file.height.toLocaleString("en-GB")} pixels · {bytes(file.bytes)}
      </p>
    </div>
  );
}

async function sidesOfPicture(address: string) {
  const image = new Image();
  image.src = address;
  await image.decode();
  return { width: image.naturalWidth, height: image.naturalHeight };
}

function sidesOfFilm(address: string) {
  const film = document.createElement("video");
  film.src = address;
  return new Promise<{ width: number; height: number }>((go, fail) => {
    film.onloadedmetadata = () => go({ width: film.videoWidth, height: film.videoHeight });
    film.onerror = () => fail(new Error("It cannot be played here."));
  });
}
