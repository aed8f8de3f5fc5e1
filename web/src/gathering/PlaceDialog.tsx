import { useState, type FormEvent } from "react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { items } from "~/kit/words";
import { moveToPlace } from "./acts";

/** PlaceDialog moves items to a place in the order of an album that is made by hand. */
export function PlaceDialog({ brand, album, ids, onClose }: { brand: string; album: Schema["Album"]; ids: number[]; onClose: () => void }) {
  const [text, setText] = useState("1");
  const last = album.items - ids.length + 1;
  const place = Number(text);
  const wrong = /^\d+$/.test(text.trim()) && place >= 1 && place <= last ? undefined : `A place is a number from 1 to ${last}.`;
  const go = (event: FormEvent) => {
    event.preventDefault();
    if (wrong) return;
    onClose();
    void moveToPlace(brand, album.id, ids, place);
  };
  return (
    <Dialog title={`Move ${items(ids.length)} within “${album.name}”`} onClose={onClose}>
      <form className="space-y-3" onSubmit={go}>
        <TextField
          label="To place"
          autoFocus
          inputMode="numeric"
          value={text}
          problem={text === "" ? undefined : wrong}
          hint={`1 is the first, ${last} the last`}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setText(e.target.value)}
          autoComplete="off"
        />
        <Button type="submit" tone="main" disabled={!!wrong}>
          Move {ids.length.toLocaleString("en-GB")} to place {wrong ? "…" : place}
        </Button>
      </form>
    </Dialog>
  );
}
