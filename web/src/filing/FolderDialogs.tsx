import { useState, type FormEvent } from "react";
import { messageOf } from "~/api/client";
import type { Folder } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextArea, TextField } from "~/kit/Field";
import { items, plural } from "~/kit/words";
import { copyStructure, makeFolders, removeFolder } from "./acts";

/** Ask opens a dialog about a folder, or about the top. */
export type Ask = (what: "new" | "about" | "duplicate" | "move" | "remove", folder?: Folder) => void;

/** NewFoldersDialog makes folders, one for each line, inside of another if one is given. */
export function NewFoldersDialog({ brand, folder, onClose }: { brand: string; folder?: Folder; onClose: () => void }) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const lines = name.split("\n").filter((l) => l.trim()).length;
  const submit = async (event?: FormEvent) => {
    event?.preventDefault();
    if (lines === 0) return;
    try {
      await makeFolders(brand, name, folder?.id);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={folder ? `New folder in “${folder.name}”` : "New folder"} onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextArea
          label="Name"
          autoFocus
          rows={Math.min(8, Math.max(1, name.split("\n").length))}
          value={name}
          problem={problem}
          hint="Shift+Enter begins another one. Slashes make nested folders: 2026/Autumn/Harbour"
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== "Enter" || e.shiftKey) return;
            e.preventDefault();
            void submit();
          }}
        />
        <Button type="submit" tone="main" disabled={lines === 0}>
          {lines > 1 ? `Make ${lines} folders` : "Make the folder"}
        </Button>
      </form>
    </Dialog>
  );
}

/** DuplicateDialog makes a folder with the same folders inside and nothing in them. */
export function DuplicateDialog({ brand, folder, onClose }: { brand: string; folder: Folder; onClose: () => void }) {
  const [name, setName] = useState(`${folder.name} 2`);
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await copyStructure(brand, folder.id, name);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title={`Another folder like “${folder.name}”`}
      about="With the same folders inside, all of them empty. No item is copied."
      onClose={onClose}
    >
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField label="Name" autoFocus value={name} problem={problem} autoComplete="off" onChange={(e) => setName(e.target.value)} />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          Make “{name.trim()}”
        </Button>
      </form>
    </Dialog>
  );
}

/** RemoveFolderDialog says in numbers what happens to what is inside. */
export function RemoveFolderDialog({
  brand,
  folder,
  inside,
  parent,
  onClose,
}: {
  brand: string;
  folder: Folder;
  inside: number;
  parent: string | undefined;
  onClose: () => void;
}) {
  const contents = [folder.all > 0 && items(folder.all), inside > 0 && plural(inside, "folder")].filter(Boolean).join(" and ");
  const where = parent
    ? `move up to ${parent}`
    : folder.all > 0 && inside > 0
      ? "move out: the items to Unfiled, the folders to the top level"
      : folder.all > 0
        ? "move to Unfiled"
        : "move to the top level";
  const remove = () => {
    onClose();
    void removeFolder(brand, folder.id);
  };
  return (
    <Dialog
      title={`Remove the folder “${folder.name}”?`}
      about={
        contents ? `${contents} ${folder.all + inside === 1 ? where.replace("move", "moves") : where}. Nothing is deleted.` : "It is empty."
      }
      onClose={onClose}
    >
      <Button tone="danger" autoFocus onClick={remove}>
        Remove the folder
      </Button>
    </Dialog>
  );
}
