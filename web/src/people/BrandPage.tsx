import { useState } from "react";
import { messageOf, type Me } from "~/api/client";
import { useBrandSettings } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { BrandDialog } from "./BrandDialog";
import { changeBrand } from "./acts";

/** BrandPage is what a brand is called and how its people work together. Everything is saved as one changes it. */
export function BrandPage({ me }: { me: Me }) {
  const settings = useBrandSettings(me.brand).data;
  const [state, setState] = useState("");
  const [making, setMaking] = useState(false);
  const count = async (reviewersCount: boolean) => {
    try {
      await changeBrand(me.brand, { reviewersCount });
      setState("Saved");
    } catch (error) {
      setState(messageOf(error));
    }
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="settings">
      <div className="stitch-b px-4 py-2">
        <h1 className="text-lg">The brand</h1>
      </div>
      {settings && (
        <div className="mx-auto max-w-xl space-y-8 p-4">
          <SavedField
            label="Name"
            value={settings.name}
            maxLength={100}
            hint="Addresses of the brand stay as they are."
            check={(text) => (text.trim() ? undefined : "A brand needs a name.")}
            onSave={(name) => changeBrand(me.brand, { name })}
          />
          <section>
            <h2 className="mb-1 text-base">Stars of reviewers</h2>
            <Switch label="They count as the team’s stars" checked={settings.reviewersCount} onChange={(on) => void count(on)} />
            <p className="text-dense text-ink-soft">
              {settings.reviewersCount
                ? "What a reviewer gives replaces what was there, as it does for everybody else."
                : "What a reviewer gives is shown beside the team’s stars, with their name, and changes nothing else."}
            </p>
            <p role="status" className="text-dense text-ink-soft">
              {state}
            </p>
          </section>
          <section>
            <h2 className="mb-1 text-base">Another brand</h2>
            <p className="mb-2 text-ink-soft">With a library of its own, of which nothing can be reached from this one.</p>
            <Button onClick={() => setMaking(true)}>Make another brand</Button>
          </section>
        </div>
      )}
      {making && <BrandDialog brand={me.brand} onClose={() => setMaking(false)} />}
    </div>
  );
}
