import { useRecipes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { exactly, when } from "~/kit/words";
import { Fold } from "./Fold";
import { same } from "./recipe";
import { settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** Earlier lists how the picture was prepared, in words, and goes back to any of it. */
export function Earlier({ brand, id, work }: { brand: string; id: number; work: Work }) {
  const steps = useRecipes(brand, id).data ?? [];
  if (steps.length === 0) return null;
  return (
    <Fold name="What was done" changed={0}>
      <ol className="space-y-2">
        {steps.map((s) => (
          <li key={s.trail} className="text-dense">
            <p>{s.words.join(", ") || "Put back as it was"}</p>
            <p className="flex items-center justify-between text-ink-soft">
              <span title={exactly(s.at)}>
                {s.by}, {when(s.at)}
              </span>
              {!same(s.recipe, work.settled) && (
                <Button tone="quiet" className="min-h-7" onClick={() => settle(s.recipe, "going back to an earlier one")}>
                  Go back to this
                </Button>
              )}
            </p>
          </li>
        ))}
      </ol>
    </Fold>
  );
}
