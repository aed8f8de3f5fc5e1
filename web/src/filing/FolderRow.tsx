import { Folder as FolderIcon, MoreHorizontal } from "lucide-react";
import { memo, useState } from "react";
import { type Action } from "~/api/client";
import type { Folder } from "~/api/queries";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { copyText } from "~/kit/notes";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { CabinetRow } from "./CabinetRow";
import { useFolderDrag } from "./folderDrag";
import type { Ask } from "./FolderDialogs";
import { moveTo } from "./moving";
import { Rename } from "./Rename";
import type { Tree } from "./tree";
import { orderFoldersByName, parkFolder } from "./acts";

interface FolderRowProps {
  folder: Folder;
  tree: Tree;
  level: number;
  ask: Ask;
  unfolded: Set<number>;
  fold: (id: number, on: boolean) => void;
}

/** Of very wide folders so many are drawn at first. */
const wide = 200;

/** FolderRow is a folder of the cabinet with those in it, when it is unfolded. */
export const FolderRow = memo(function FolderRow({ folder, tree, level, ask, unfolded, fold }: FolderRowProps) {
  const brand = useBrand();
  const selected = usePlace((place) => place.place === "folder" && place.id === folder.id);
  const { goTo } = useGo();
  const [renaming, setRenaming] = useState(false);
  const [most, setMost] = useState(wide);
  const inside = tree.inside(folder.id).filter((f) => !f.parked);
  const open = unfolded.has(folder.id) && inside.length > 0;
  const may = (action: Action) => folder.may.includes(action);
  const { grip, mark } = useFolderDrag(brand, folder, tree, may("file"), () => !open && inside.length > 0 && fold(folder.id, true));
  const change = (to: { parked: boolean }) => void parkFolder(brand, folder.id, to.parked);
  const menu = [
    ...(may("file")
      ? [
          { label: "New folder inside", onSelect: () => ask("new", folder) },
          { label: "Rename", onSelect: () => setRenaming(true) },
          { label: "Date, tags, description", onSelect: () => ask("about", folder) },
          { label: "Move to…", onSelect: () => ask("move", folder) },
          { label: "Copy the folder structure", onSelect: () => ask("duplicate", folder) },
          { label: folder.parked ? "Bring it back" : "Park it", onSelect: () => change({ parked: !folder.parked }) },
          ...(inside.some((f) => f.placed)
            ? [{ label: "Order its folders by name", onSelect: () => void orderFoldersByName(brand, folder.id) }]
            : []),
        ]
      : []),
    { label: "Open with its subfolders", onSelect: () => goTo({ place: "folder", id: folder.id, below: true }) },
    {
      label: "Copy its id",
      onSelect: () => void copyText(folder.code, folder.code),
    },
    ...(may("remove") ? [null, { label: "Remove", danger: true, onSelect: () => ask("remove", folder) }] : []),
  ];
  return (
    <div role="treeitem" aria-expanded={inside.length > 0 ? open : undefined} aria-level={level} aria-selected={selected}>
      <CabinetRow
        icon={<FolderIcon size={18} />}
        name={folder.name}
        count={folder.own}
        below={folder.below}
        all={folder.all}
        aside={folder.aside}
        to={{ place: "folder", id: folder.id }}
        indent={level - 1}
        fold={inside.length > 0 ? { open, toggle: () => fold(folder.id, !open) } : undefined}
        onItems={may("file") ? (ids) => moveTo(brand, { ids }, folder.id) : undefined}
        files={may("bring_in") ? { folder: folder.id } : undefined}
        onRename={may("file") ? () => setRenaming(true) : undefined}
        instead={renaming ? <Rename brand={brand} folder={folder} onDone={() => setRenaming(false)} /> : undefined}
        grip={grip}
        mark={mark}
        menu={
          <Menu
            trigger={<IconButton label={`More about ${folder.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
            items={menu}
          />
        }
      />
      {open && (
        <div role="group">
          {inside.slice(0, most).map((f) => (
            <FolderRow key={f.id} folder={f} tree={tree} level={level + 1} ask={ask} unfolded={unfolded} fold={fold} />
          ))}
          {inside.length > most && (
            <button type="button" className="w-full py-1 text-dense text-sea hover:underline" onClick={() => setMost(most + 5 * wide)}>
              {inside.length - most} more
            </button>
          )}
        </div>
      )}
    </div>
  );
});
