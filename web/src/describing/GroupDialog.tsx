import { useState } from "react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { changeGroup, removeGroup } from "./acts";

/** GroupDialog renames, closes and removes a tag group. */
export function GroupDialog({ brand, group, onClose }: { brand: string; group: Schema["TagGroup"]; onClose: () => void }) {
  const [name, setName] = useState(group.name);
  const [closed, setClosed] = useState(group.closed);
  return (
    <Dialog title={`The group “${name}”`} onClose={onClose}>
      <SavedField
        label="Name"
        value={name}
        maxLength={60}
        onSave={async (to) => {
          await changeGroup(brand, group.id, to, closed);
          setName(to);
        }}
      />
      <div className="mt-3">
        <Switch
          label="Closed: only stewards and coordinators add to it"
          checked={closed}
          onChange={(to) => {
            setClosed(to);
            changeGroup(brand, group.id, name, to).catch(() => setClosed(!to));
          }}
        />
      </div>
      <div className="mt-5 border-t border-line pt-3">
        <Button
          tone="danger"
          onClick={() => {
            onClose();
            void removeGroup(brand, group.id);
          }}
        >
          Remove the group; its tags stay
        </Button>
      </div>
    </Dialog>
  );
}
