import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { clockIn, zoneName, items } from "~/kit/words";
import { changePost, movePost } from "./acts";
import type { CalendarPost } from "./calendar";

/** standingInBrief says how a post stands in a few words. */
export function standingInBrief(p: CalendarPost): string {
  if (p.withdrawn) return "taken back";
  const still = p.still ? ", not released" : "";
  return {
    planned: `planned${still}`,
    preparing: `being brought there${still}`,
    placing: "being posted",
    settling: "being looked for",
    unsure: "nobody can tell whether it is out",
    out: "out there",
    refused: "not sent",
    cancelled: "cancelled",
  }[p.phase];
}

/** PostDialog shows a post of the calendar, and gives it another moment. */
export function PostDialog({ brand, post: p, onClose }: { brand: string; post: CalendarPost; onClose: () => void }) {
  const [wall, setWall] = useState(p.wall);
  const can = p.phase === "planned" || p.phase === "preparing";
  const move = async () => {
    if (await movePost(brand, p.id, wall)) onClose();
  };
  return (
    <Dialog title={`${items(p.items)} on ${p.pageName}`} about={`${clockIn(p.wall, p.zone)}: ${standingInBrief(p)}`} onClose={onClose}>
      <div className="space-y-3" data-post-dialog>
        {p.caption && <p className="whitespace-pre-line">{p.caption}</p>}
        {p.crowded && <p className="text-tomato">Another post goes to this page within the hour.</p>}
        {p.ends && <p className="text-tomato">The rights in one of its items end before that.</p>}
        {can && (
          <div className="flex flex-wrap items-end gap-2">
            <TextField
              label={`Day and time in ${zoneName(p.zone)}`}
              type="datetime-local"
              value={wall}
              onChange={(e) => setWall(e.target.value)}
            />
            <Button tone="strap" disabled={!wall || wall === p.wall} onClick={() => void move()}>
              Move it
            </Button>
          </div>
        )}
        <div className="flex flex-wrap gap-3">
          {can && (
            <Button
              onClick={() => {
                void changePost(brand, p.id, "cancel");
                onClose();
              }}
            >
              Cancel it
            </Button>
          )}
          <Link to="/b/$brand/dispatches" params={{ brand }} className="self-center text-sea underline">
            Open the dispatches
          </Link>
        </div>
      </div>
    </Dialog>
  );
}
