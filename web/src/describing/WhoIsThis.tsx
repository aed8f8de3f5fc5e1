import { ArrowLeft, SkipForward, UserRoundX } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { mediaAddress, messageOf, type Schema } from "~/api/client";
import { useAsset, useNextFace } from "~/api/queries";
import { useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { titleOf } from "~/kit/words";
import { dropFace, nameFace } from "~/sheet/acts";
import { FaceCrop } from "~/sheet/FaceCrop";
import { NameEntry, peopleGroup } from "~/sheet/NameEntry";
import { faceCount } from "./PeopleShownPage";

/** WhoIsThis goes through the faces that nobody has named, one after the other, by keys alone. */
export function WhoIsThis({ brand, onEnd }: { brand: string; onEnd: () => void }) {
  const [after, setAfter] = useState({ id: 0, back: false });
  const { data, error, isFetching } = useNextFace(brand, after.id, after.back);
  const [named, setNamed] = useState<string[]>([]);
  const spot = data?.next;
  const on = () => spot && setAfter({ id: spot.face.id, back: false });
  const back = () => spot && setAfter({ id: spot.face.id, back: true });
  const drop = () => spot && void dropFace(brand, spot.asset, spot.face.id).then((done) => done && on());
  useAlwaysKeys({ Escape: onEnd, ArrowRight: on, ArrowLeft: back, Delete: drop });
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-page="who-is-this">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="text-lg">Who is this?</h1>
        <span className="text-ink-soft">
          {data && (data.left > 0 ? `${faceCount(data.left)} without a name` : "Every face has a name")}
        </span>
        <Button className="ml-auto" onClick={onEnd}>
          Back to everybody
        </Button>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto p-4">
        {error && <p role="alert">{messageOf(error)}</p>}
        {data && !spot && (
          <div className="mx-auto max-w-md text-center" role="status">
            <p className="mb-3">{data.left > 0 ? "That was the last one on this side." : "Every face has a name."}</p>
            {data.left > 0 && <Button onClick={() => setAfter({ id: 0, back: false })}>From the beginning</Button>}
          </div>
        )}
        {spot && (
          <OneFace
            key={spot.face.id}
            brand={brand}
            spot={spot}
            waiting={isFetching}
            recent={named}
            onName={(name) => {
              if (!name) return on();
              void nameFace(brand, spot.asset, spot.face.id, name).then((done) => {
                if (!done) return;
                setNamed((before) => [name, ...before.filter((n) => n !== name)].slice(0, 6));
                on();
              });
            }}
            onDrop={drop}
            onOn={on}
            onBack={back}
          />
        )}
      </div>
    </div>
  );
}

/** useAlwaysKeys listens wherever the focus is, so that no key is lost while the next face comes; what is typed keeps its keys. */
function useAlwaysKeys(keys: Record<string, () => void>) {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const run = latest.current[e.key];
      const typed = e.target instanceof HTMLInputElement && e.target.value !== "";
      if (!run || e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey || (typed && e.key !== "Escape")) return;
      if ((e.target as HTMLElement).closest("[role=dialog], [role=menu]")) return;
      e.preventDefault();
      run();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}

function OneFace({
  brand,
  spot,
  waiting,
  recent,
  onName,
  onDrop,
  onOn,
  onBack,
}: {
  brand: string;
  spot: Schema["FaceSpot"];
  waiting: boolean;
  recent: string[];
  onName: (name: string) => void;
  onDrop: () => void;
  onOn: () => void;
  onBack: () => void;
}) {
  const row = useRow(spot.asset);
  const asset = useAsset(brand, spot.asset).data;
  const tagged = (asset?.tags ?? [])
    .filter((t) => t.group === peopleGroup && !asset!.faces.some((f) => f.name === t.name))
    .map((t) => t.name);
  const proposed = [...new Set([...tagged, ...recent])];
  return (
    <div className="mx-auto grid max-w-4xl gap-6 md:grid-cols-[260px_1fr]" data-open-face={spot.face.id}>
      <div className="space-y-3">
        <FaceCrop brand={brand} spot={spot} size={260} alt="The face in question" />
        <NameEntry brand={brand} label="Who is this?" proposed={proposed} open onName={onName} />
        <div className="flex flex-wrap gap-2">
          <Button icon={<UserRoundX size={16} />} disabled={waiting} onClick={onDrop}>
            Not a face
          </Button>
          <Button icon={<SkipForward size={16} />} disabled={waiting} onClick={onOn}>
            Leave it open
          </Button>
          <Button icon={<ArrowLeft size={16} />} disabled={waiting} onClick={onBack}>
            Back
          </Button>
        </div>
        <p className="text-small text-ink-soft">
          Type a name and press Enter. While nothing is typed: Down chooses from those proposed, Right goes on, Left goes back, Delete says
          that it is no face, Escape ends.
        </p>
      </div>
      {row && (
        <figure className="min-w-0">
          <div className="relative w-fit">
            <img src={mediaAddress(brand, row, "large")} alt={row.alt || titleOf(row)} className="max-h-[60vh] max-w-full" />
            <span
              className="absolute rounded-[3px] outline-2 outline-saffron"
              style={{
                left: `${100 * spot.face.x}%`,
                top: `${100 * spot.face.y}%`,
                width: `${100 * spot.face.width}%`,
                height: `${100 * spot.face.height}%`,
              }}
            />
          </div>
          <figcaption className="mt-2 truncate text-dense text-ink-soft">{titleOf(row)}</figcaption>
        </figure>
      )}
    </div>
  );
}
