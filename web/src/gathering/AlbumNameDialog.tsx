import { useState, type FormEvent } from "react";
import { messageOf, told, type Schema, type Selection } from "~/api/client";
import { useSatchel } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { items } from "~/kit/words";
import { asSelection, useCount } from "~/sheet/selection";
import { newAlbum, renameAlbum } from "./acts";
import { useChoice } from "./choice";

/** AlbumNameDialog makes an album, with nothing in it, what is selected or what is carried; or it renames one. */
export function AlbumNameDialog({
  brand,
  album,
  parent,
  onClose,
}: {
  brand: string;
  album?: Schema["Album"];
  parent?: number;
  onClose: () => void;
}) {
  const [name, setName] = useState(album?.name ?? "");
  const [problem, setProblem] = useState<string>();
  const [from, setFrom] = useState<"nothing" | "selection" | "satchel">("nothing");
  const selected = useCount();
  const carried = useSatchel(brand).data ?? [];
  const choice = useChoice();
  const options = [
    { value: "nothing" as const, label: "nothing yet" },
    ...(selected > 0 ? [{ value: "selection" as const, label: `the selection, ${items(selected)}` }] : []),
    ...(carried.length > 0 ? [{ value: "satchel" as const, label: `the satchel, ${items(carried.length)}` }] : []),
  ];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const selection: Selection | undefined =
      from === "selection" ? asSelection() : from === "satchel" ? { ids: carried.map((r) => r.id) } : undefined;
    try {
      const made = { parent, selection, choice: from === "selection" ? choice() : undefined };
      told(brand, album ? await renameAlbum(brand, album.id, name) : await newAlbum(brand, name, made));
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={album ? `Rename “${album.name}”` : "New album"} onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField label="Name" autoFocus value={name} problem={problem} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        {!album && options.length > 1 && <Choice label="In it" value={from} options={options} onChange={setFrom} />}
        <Button type="submit" tone="main" disabled={!name.trim()}>
          {album ? "Rename" : "Make the album"}
        </Button>
      </form>
    </Dialog>
  );
}
