import type { Me } from "~/api/client";
import { undo } from "~/api/client";
import { useTrail } from "~/api/queries";
import { Button } from "~/kit/Button";
import { when } from "~/kit/words";

/** TrailPage lists who did what and when; each step can be undone while nobody has changed the thing since. */
export function TrailPage({ brand, me }: { brand: string; me: Me }) {
  const trail = useTrail(brand).data;
  const all = me.role === "steward" || me.role === "coordinator";
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="trail">
      <div className="stitch-b px-4 py-2">
        <h1 className="text-lg">Trail</h1>
      </div>
      <ol className="mx-auto max-w-3xl p-4">
        {trail?.length === 0 && <li className="text-ink-soft">Nothing yet. Everything that is done stands here, and can be undone.</li>}
        {trail?.map((t) => (
          <li key={t.id} className="flex items-center gap-3 border-b border-line py-1.5">
            <span className={`min-w-0 flex-1 ${t.undone ? "text-ink-soft line-through" : ""}`}>{t.said}</span>
            <span className="text-dense text-ink-soft">
              {t.by}, {when(t.at)}
            </span>
            {t.undoable && (all || t.mine) && (
              <Button tone="quiet" onClick={() => void undo(brand, t.id)}>
                Undo
              </Button>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}
