import { useState } from "react";
import { messageOf } from "~/api/client";
import type { Folder } from "~/api/queries";
import { renameFolder } from "./acts";

/** Rename changes the name of a folder in its place: Enter keeps it, Escape does not. */
export function Rename({ brand, folder, onDone }: { brand: string; folder: Folder; onDone: () => void }) {
  const [name, setName] = useState(folder.name);
  const [problem, setProblem] = useState<string>();
  const keep = async () => {
    if (!name.trim() || name === folder.name) return onDone();
    try {
      await renameFolder(brand, folder.id, name);
      onDone();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <span className="min-w-0 flex-1 py-1">
      <input
        autoFocus
        aria-label={`New name of ${folder.name}`}
        aria-invalid={problem ? true : undefined}
        className="w-full rounded border border-line-strong bg-card px-1.5 py-0.5"
        value={name}
        maxLength={200}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => !problem && void keep()}
        onKeyDown={(e) => {
          if (e.key === "Enter") void keep();
          else if (e.key === "Escape") onDone();
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
      {problem && (
        <span role="alert" className="block text-small text-tomato">
          {problem}
        </span>
      )}
    </span>
  );
}
