import { useState, type FormEvent } from "react";
import { ask, client, messageOf, undo, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { items, plural } from "~/kit/words";

type Folder = Schema["Folder"];

/** FolderDialog makes a folder, inside of another if one is given, or renames that one. */
export function FolderDialog({ brand, folder, rename, onClose }: { brand: string; folder?: Folder; rename: boolean; onClose: () => void }) {
  const [name, setName] = useState(rename ? folder!.name : "");
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const done = await ask(
        rename
          ? client.PATCH("/api/brands/{brand}/folders/{id}", { params: { path: { brand, id: folder!.id } }, body: { name } })
          : client.POST("/api/brands/{brand}/folders", { params: { path: { brand } }, body: { name, parent: folder?.id } }),
      );
      tell(done.said, done.trail ? { label: "Undo", run: () => void undo(brand, done.trail!) } : undefined);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const title = rename ? `Rename “${folder!.name}”` : folder ? `New folder in “${folder.name}”` : "New folder";
  return (
    <Dialog title={title} onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField label="Name" autoFocus value={name} problem={problem} hint={rename ? undefined : "With slashes it makes the chain: 2026/Autumn/Harbour"} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          {rename ? "Rename" : "Make the folder"}
        </Button>
      </form>
    </Dialog>
  );
}

/** RemoveFolderDialog says in numbers what happens to what is inside. */
export function RemoveFolderDialog({ brand, folder, inside, onClose }: { brand: string; folder: Folder; inside: number; onClose: () => void }) {
  const where = folder.parent === undefined ? "to Unfiled" : "up";
  const contents = [folder.own > 0 && items(folder.own), inside > 0 && plural(inside, "folder")].filter(Boolean).join(" and ");
  const remove = async () => {
    onClose();
    try {
      const done = await ask(client.DELETE("/api/brands/{brand}/folders/{id}", { params: { path: { brand, id: folder.id } } }));
      tell(done.said, { label: "Undo", run: () => void undo(brand, done.trail!) });
    } catch (error) {
      warn(messageOf(error));
    }
  };
  return (
    <Dialog title={`Remove the folder “${folder.name}”?`} about={contents ? `${contents} move ${where}. Nothing is deleted.` : "It is empty."} onClose={onClose}>
      <Button tone="danger" onClick={() => void remove()}>
        Remove the folder
      </Button>
    </Dialog>
  );
}
