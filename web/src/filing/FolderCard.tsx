import { useTags, type Folder } from "~/api/queries";
import { Dialog } from "~/kit/Dialog";
import { SavedField } from "~/kit/SavedField";
import { useAbove } from "~/sheet/outside";
import { ShownIn } from "~/sheet/ShownIn";
import { setFolder } from "./acts";

/** FolderCard is what a folder says about everything in it. It saves as one goes. */
export function FolderCard({
  brand,
  folder,
  outside,
  onClose,
}: {
  brand: string;
  folder: Folder;
  /** Tell where it is shown. */
  outside: boolean;
  onClose: () => void;
}) {
  const tags = useTags(brand).data ?? [];
  const above = useAbove(brand, folder.id);
  const names = (folder.tags ?? []).map((id) => tags.find((t) => t.id === id)?.name ?? "").join(", ");
  const save = (field: "description" | "date" | "tags") => (value: string) => setFolder(brand, folder.id, { [field]: value });
  return (
    <Dialog title={`About “${folder.name}”`} about="Everything in it answers to this in searches and filters." onClose={onClose}>
      <div className="space-y-3">
        <SavedField
          label="Description"
          keepAs={`folder ${folder.id} description`}
          kind="text"
          maxLength={5000}
          value={folder.description}
          onSave={save("description")}
        />
        <SavedField
          label="Date"
          kind="day"
          hint="Stands in for the capture time of what is undated"
          value={folder.date ?? ""}
          check={(day) => (day && (day < "1800" || day > "2200") ? "Is that the right year?" : undefined)}
          onSave={save("date")}
        />
        <SavedField label="Tags" placeholder="Several with commas" value={names} onSave={save("tags")} />
        {outside && <ShownIn brand={brand} folders={{ here: folder.id, above }} />}
      </div>
    </Dialog>
  );
}
