import { useEffect, useState } from "react";
import { mediaAddress, messageOf, type AssetRow, type Schema } from "~/api/client";
import { titleOf } from "~/kit/words";
import { filmState } from "./acts";

/** How often, in milliseconds, it is asked how far a film is. */
const often = 700;

/** Playing plays the film of a clip as it goes out, once it is made. */
export function Playing({ brand, row, saved }: { brand: string; row: AssetRow; saved: boolean }) {
  const [film, setFilm] = useState<Schema["FilmState"]>();
  const [wrong, setWrong] = useState<string>();
  useEffect(() => {
    if (!saved) return;
    let left = false;
    let timer: number | undefined;
    const ask = () =>
      void filmState(brand, row.id).then(
        (state) => {
          if (left) return;
          setWrong(undefined);
          setFilm(state);
          if (!state.ready && !state.failed) timer = window.setTimeout(ask, often);
        },
        (error: unknown) => {
          if (left) return;
          setWrong(messageOf(error));
          timer = window.setTimeout(ask, 4 * often);
        },
      );
    ask();
    return () => {
      left = true;
      window.clearTimeout(timer);
    };
  }, [brand, row.id, row.version, saved]);
  if (film?.ready && saved)
    return (
      <video
        key={row.version}
        src={mediaAddress(brand, row, "film")}
        controls
        autoPlay
        muted={false}
        className="size-full object-contain"
        aria-label={titleOf(row)}
        data-playing=""
      />
    );
  return (
    <div className="grid h-full place-items-center p-6 text-center" aria-live="polite">
      {film?.failed ? (
        <p className="rounded-patch bg-card px-3 py-1 text-tomato">{film.failed}</p>
      ) : (
        <p className="rounded-patch bg-card px-3 py-1">
          {wrong ?? `Making the film, ${Math.round((film?.made ?? 0) * 100)} %`}
          <progress className="ml-2 align-middle" value={film?.made ?? 0} max={1} aria-label="Making the film" />
        </p>
      )}
    </div>
  );
}
