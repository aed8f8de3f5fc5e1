import { useState } from "react";
import type { Schema } from "~/api/client";
import { useSpellings } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { items, plural } from "~/kit/words";
import { FaceCrop } from "~/sheet/FaceCrop";
import { withFacets } from "~/sheet/filters";
import { useGo } from "~/sheet/place";
import { spellTag, writeAboutPerson } from "./acts";
import { consentNames } from "./consent";

const said = (["open", "given", "refused"] as const).map((value) => ({ value, label: consentNames[value] }));

/** PersonCard is what is known of somebody who is shown; it saves itself. */
export function PersonCard({ brand, person }: { brand: string; person: Schema["PersonShown"] }) {
  const { goTo } = useGo();
  const names = (useSpellings(brand).data ?? []).filter((s) => s.tag === person.id).map((s) => s.name);
  const [spelling, setSpelling] = useState(0);
  const write = (about: Schema["AboutPerson"]) => writeAboutPerson(brand, person.id, about);
  return (
    <section className="space-y-4" data-person-card={person.id}>
      <div className="flex items-center gap-3">
        <FaceCrop brand={brand} spot={person.portrait} size={88} alt={`Face of ${person.name}`} />
        <div className="min-w-0">
          <h2 className="text-lg break-words">{person.name}</h2>
          <p className="text-dense text-ink-soft">
            In {items(person.items)}; {plural(person.faces, "face")} outlined
          </p>
        </div>
      </div>
      <Button
        disabled={person.items === 0}
        onClick={() => goTo({ place: "everything", filter: withFacets(undefined, { tag: { how: "any", values: [person.id] } }) })}
      >
        Show the pictures
      </Button>
      {(person.stands === "refused" || person.stands === "ended") && (
        <p role="status" className="font-medium text-tomato">
          Not to be shown in public: {consentNames[person.stands]}.
        </p>
      )}
      <Choice
        label="May they be shown in public?"
        value={person.consent}
        options={said}
        onChange={(consent) => void write({ consent: consent as Schema["Consent"] })}
      />
      {person.consent === "given" && (
        <SavedField label="Until (optional)" kind="day" value={person.consentUntil} onSave={(consentUntil) => write({ consentUntil })} />
      )}
      <SavedField
        label="Note on the consent"
        keepAs={`consent ${person.id}`}
        kind="text"
        value={person.note}
        maxLength={1000}
        onSave={(note) => write({ note })}
      />
      <SavedField label="E-mail" value={person.email} maxLength={254} onSave={(email) => write({ email })} />
      <Switch
        label="Tell them of new pictures by e-mail, once a day at most"
        checked={person.told}
        disabled={!person.email}
        onChange={(told) => void write({ told })}
      />
      <div>
        <p className="mb-1 text-dense font-medium text-ink-soft">Also goes by</p>
        <p className="mb-1">{names.length > 0 ? names.join(", ") : "No other names"}</p>
        <SavedField
          key={spelling}
          label="Another name"
          value=""
          maxLength={100}
          onSave={async (name) => {
            if (!name.trim()) return;
            await spellTag(brand, person.id, name);
            setSpelling(spelling + 1);
          }}
        />
      </div>
    </section>
  );
}
