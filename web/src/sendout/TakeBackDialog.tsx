import { useState } from "react";
import { messageOf, type Selection } from "~/api/client";
import { usePlacedOf } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { items, plural } from "~/kit/words";
import { takeBackEverywhere } from "./acts";

/** mostTakenBack is how many posts are taken back by one press. */
const mostTakenBack = 200;

/** TakeBackDialog says from where items are taken back, and what goes with them, before they are. */
export function TakeBackDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}) {
  const { data: placed, error } = usePlacedOf(brand, selection, true);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const many = (placed?.posts ?? 0) > mostTakenBack;
  const taken = placed && !many ? placed.posts - placed.stay : 0;
  const go = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      await takeBackEverywhere(brand, selection);
      onClose();
    } catch (failed) {
      setProblem(messageOf(failed));
      setBusy(false);
    }
  };
  const others = placed?.others ?? 0;
  const stays = placed?.stay ?? 0;
  const beside =
    others > 0 ? ` A post is taken back as a whole: ${plural(others, "other item")} ${others === 1 ? "goes" : "go"} as well.` : "";
  const stay =
    stays > 0
      ? ` ${plural(stays, "post")} of these ${stays === 1 ? "stays" : "stay"}: that page lets nothing be taken back from here.`
      : "";
  const those = count === 1 ? "it" : "them";
  return (
    <Dialog
      title={`Take ${items(count)} back from every page`}
      about="Galleries, embeds and public addresses stay as they are."
      onClose={onClose}
    >
      <div className="space-y-3" data-take-back>
        {error && <p className="text-tomato">{error.message}</p>}
        {!placed && !error && <p className="text-ink-soft">Looking where…</p>}
        {placed?.posts === 0 && <p>{count === 1 ? "It is on no page now." : "None of them is on a page now."}</p>}
        {placed && placed.posts > 0 && (
          <>
            <ul>
              {placed.pages.map((p) => (
                <li key={p.page} className="text-plum">
                  {count === 1 ? `“${p.name}”` : `${items(p.items)} on “${p.name}”`}
                </li>
              ))}
            </ul>
            <p>
              {many ? `More than ${mostTakenBack} posts` : plural(placed.posts, "post")} {placed.posts === 1 ? "shows" : "show"} {those}.
              {many && " Select fewer to take them back."}
              {beside}
              {stay}
            </p>
          </>
        )}
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        <div className="flex gap-2">
          {taken > 0 && (
            <Button tone="danger" disabled={busy} onClick={() => void go()}>
              Take {plural(taken, "post")} back
            </Button>
          )}
          <Button tone="quiet" onClick={onClose}>
            {taken > 0 ? (count === 1 ? "Leave it there" : "Leave them there") : "Close"}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
