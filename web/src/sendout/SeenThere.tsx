import { Eye } from "lucide-react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { dayName, when } from "~/kit/words";

/** SeenThere shows a post as it is out there, fetched from there, and how it differs from what was sent. */
export function SeenThere({ brand, seen, onLook }: { brand: string; seen: Schema["SeenPost"]; onLook: () => void }) {
  return (
    <div className="flex w-full flex-wrap items-center gap-2 rounded-patch bg-sunk p-2" data-seen={seen.gone ? "gone" : seen.said.length}>
      {seen.gone ? (
        <p className="flex-1 text-tomato">Gone there since {dayName(seen.gone.slice(0, 10))}.</p>
      ) : (
        <>
          <span className="flex gap-1">
            {seen.media.slice(0, 4).map((id) => (
              <img
                key={id}
                src={`/api/brands/${brand}/outlets/${seen.outlet}/media/${encodeURIComponent(id)}/picture`}
                alt="As it is there"
                loading="lazy"
                className="h-10 w-14 rounded object-cover"
              />
            ))}
          </span>
          <div className="min-w-48 flex-1 text-small">
            {seen.said.length === 0 && !seen.trouble && <p className="text-ink-soft">There it is as it was sent.</p>}
            {seen.said.map((said) => (
              <p key={said} className="text-tomato">
                {said}
              </p>
            ))}
            {seen.trouble && <p className="text-tomato">{seen.trouble}</p>}
          </div>
        </>
      )}
      <span className="text-small text-ink-soft">Looked at {when(seen.at)}</span>
      <Button tone="quiet" icon={<Eye size={16} />} onClick={onLook}>
        Look again
      </Button>
    </div>
  );
}
