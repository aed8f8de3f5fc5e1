import { useState } from "react";
import { messageOf } from "~/api/client";
import { useTags, type Folder } from "~/api/queries";
import { Dialog } from "~/kit/Dialog";
import { TextArea, TextField } from "~/kit/Field";
import { setFolder } from "./acts";

/** FolderCard is what a folder says about everything in it. It saves as one goes. */
export function FolderCard({ brand, folder, onClose }: { brand: string; folder: Folder; onClose: () => void }) {
  const tags = useTags(brand).data ?? [];
  const names = (folder.tags ?? []).map((id) => tags.find((t) => t.id === id)?.name ?? "").join(", ");
  const [saved, setSaved] = useState(false);
  const [problem, setProblem] = useState<{ field: string; text: string }>();
  const save = async (field: "description" | "date" | "tags", value: string) => {
    setProblem(undefined);
    try {
      await setFolder(brand, folder.id, { [field]: value });
      setSaved(true);
    } catch (error) {
      setSaved(false);
      setProblem({ field, text: messageOf(error) });
    }
  };
  const of = (field: "description" | "date" | "tags", now: string) => ({
    defaultValue: now,
    problem: problem?.field === field ? problem.text : undefined,
    onBlur: (e: { target: { value: string } }) => e.target.value !== now && void save(field, e.target.value),
  });
  return (
    <Dialog title={`About “${folder.name}”`} about="Everything in it answers to this in searches and filters." onClose={onClose}>
      <div className="space-y-3">
        <TextArea label="Description" rows={3} maxLength={5000} {...of("description", folder.description)} />
        <TextField label="Date" type="date" hint="Stands in for the capture time of what is undated" {...of("date", folder.date ?? "")} />
        <TextField label="Tags" placeholder="Several with commas" key={names} {...of("tags", names)} />
        <p role="status" className="h-5 text-dense text-ink-soft">
          {saved ? "Saved" : ""}
        </p>
      </div>
    </Dialog>
  );
}
