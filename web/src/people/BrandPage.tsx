import { useState } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useBrandSettings } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { needNames } from "~/sheet/filters";
import { BrandDialog } from "./BrandDialog";
import { ColoursSettings } from "./ColoursSettings";
import { StagesSettings } from "./StagesSettings";
import { changeBrand } from "./acts";

const needs = Object.keys(needNames) as Schema["Need"][];

/** BrandPage is what a brand is called and how its people work together. Everything is saved as one changes it. */
export function BrandPage({ me }: { me: Me }) {
  const settings = useBrandSettings(me.brand).data;
  const [state, setState] = useState("");
  const [making, setMaking] = useState(false);
  const save = async (change: Schema["BrandChange"]) => {
    try {
      await changeBrand(me.brand, change);
      setState("Saved");
    } catch (error) {
      setState(messageOf(error));
    }
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="settings">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="text-lg">The brand</h1>
        <p role="status" className="text-dense text-ink-soft">
          {state}
        </p>
      </div>
      {settings && (
        <div className="space-y-8 page-column">
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
            <Switch
              label="They count as the team’s stars"
              checked={settings.reviewersCount}
              onChange={(on) => void save({ reviewersCount: on })}
            />
            <p className="text-dense text-ink-soft">
              {settings.reviewersCount
                ? "What a reviewer gives replaces what was there, as it does for everybody else."
                : "What a reviewer gives is shown beside the team’s stars, with their name, and changes nothing else."}
            </p>
          </section>
          <section>
            <h2 className="mb-1 text-base">Sending to pages</h2>
            <Switch label="A second person says “go”" checked={settings.secondGo} onChange={(on) => void save({ secondGo: on })} />
            <p className="text-dense text-ink-soft">
              {settings.secondGo
                ? "Nothing leaves for a social page before somebody else than the one who prepared it has looked at it."
                : "Who prepares a dispatch sends it."}
            </p>
          </section>
          <section>
            <h2 className="mb-1 text-base">A described item has</h2>
            <p className="mb-2 text-dense text-ink-soft">The number at Describe counts what lacks any of these.</p>
            <div className="grid grid-cols-2 gap-x-4 max-md:grid-cols-1">
              {needs.map((need) => (
                <Switch
                  key={need}
                  label={needNames[need][0]!.toUpperCase() + needNames[need].slice(1)}
                  checked={settings.needs.includes(need)}
                  onChange={(on) => void save({ needs: needs.filter((n) => (n === need ? on : settings.needs.includes(n))) })}
                />
              ))}
            </div>
          </section>
          <StagesSettings brand={me.brand} />
          <ColoursSettings brand={me.brand} />
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
