import { Link } from "@tanstack/react-router";
import { clsx } from "clsx";
import { ScanFace } from "lucide-react";
import { useMemo, useState } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useNextFace, usePeopleShown } from "~/api/queries";
import { Button } from "~/kit/Button";
import { foundBy } from "~/kit/completion";
import { items, plural } from "~/kit/words";
import { FaceCrop } from "~/sheet/FaceCrop";
import { PersonCard } from "./PersonCard";
import { WhoIsThis } from "./WhoIsThis";
import { consentNames } from "./consent";

/** PeopleShownPage is who is shown in the pictures of a brand, with what is known of each. */
export function PeopleShownPage({ me, person, onPerson }: { me: Me; person?: number; onPerson: (id: number | undefined) => void }) {
  const brand = me.brand;
  const keeps = me.can.includes("closed_tags");
  const describes = me.can.includes("describe");
  const { data: people, error } = usePeopleShown(brand, keeps);
  const open = useNextFace(brand, 0, false, describes).data;
  const [asking, setAsking] = useState(false);
  const [words, setWords] = useState("");
  const found = useMemo(() => foundBy(words, people ?? [], (p) => p.name), [people, words]);
  const chosen = people?.find((p) => p.id === person);
  if (asking) return <WhoIsThis brand={brand} onEnd={() => setAsking(false)} />;
  const left = open?.left ?? 0;
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-page="people-shown">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="text-lg">Who is shown</h1>
        <span className="text-ink-soft">
          {people && (people.length === 1 ? "1 person" : `${people.length.toLocaleString("en-GB")} people`)}
        </span>
        {keeps && (
          <input
            type="search"
            aria-label="Find a person"
            placeholder="Find a person"
            className="ml-auto w-48 rounded-patch border border-line bg-paper px-2.5 py-1 placeholder:text-ink-soft max-md:w-full"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
        {describes && (
          <Button
            tone={left > 0 ? "main" : undefined}
            disabled={left === 0}
            icon={<ScanFace size={16} />}
            className={keeps ? undefined : "ml-auto"}
            onClick={() => setAsking(true)}
          >
            {left > 0 ? `Name ${faceCount(left)}` : "Every face has a name"}
          </Button>
        )}
      </div>
      <div className="flex min-h-0 flex-1 max-md:flex-col-reverse">
        <div className="min-h-0 flex-1 overflow-y-auto p-4" tabIndex={0} role="group" aria-label="Everybody who is shown">
          {error && (
            <p role="alert" className="text-tomato">
              {messageOf(error)}
            </p>
          )}
          {!keeps && <p className="text-ink-soft">Who is shown, and what they agreed to, is kept by stewards and coordinators.</p>}
          {people?.length === 0 && (
            <p className="max-w-prose text-ink-soft">
              Nobody yet. Faces are found when pictures come in: press “Name” above, or outline them in a picture that is seen large.
            </p>
          )}
          {people && people.length > 0 && found.length === 0 && <p className="text-ink-soft">Nobody has “{words.trim()}” in the name.</p>}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-2">
            {found.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  aria-pressed={p.id === person}
                  data-person={p.name}
                  className={clsx(
                    "flex w-full items-center gap-3 rounded-lg border p-2 text-left",
                    p.id === person ? "border-saffron bg-saffron-wash" : "border-line bg-card hover:bg-sunk",
                  )}
                  onClick={() => onPerson(p.id === person ? undefined : p.id)}
                >
                  <FaceCrop brand={brand} spot={p.portrait} size={56} />
                  <span className="min-w-0">
                    <span className="block truncate font-medium">{p.name}</span>
                    <span className="block text-dense text-ink-soft">{items(p.items)}</span>
                    <span className={clsx("block text-dense", against(p) ? "font-medium text-tomato" : "text-ink-soft")}>
                      {consentNames[p.stands]}
                    </span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
        {keeps && (
          <aside
            aria-label="Who is chosen"
            className={clsx(
              "w-[340px] shrink-0 overflow-y-auto border-l border-line bg-card p-4",
              "max-md:max-h-[60%] max-md:w-full max-md:border-b max-md:border-l-0",
              !chosen && "max-md:hidden",
            )}
          >
            {chosen ? (
              <PersonCard key={chosen.id} brand={brand} person={chosen} />
            ) : (
              <p className="text-ink-soft">
                Choose a person to see their pictures, and whether they agree to be shown in public. Names are{" "}
                <Link to="/b/$brand/tags" params={{ brand }} className="text-sea underline">
                  tags
                </Link>
                : they are changed and merged there.
              </p>
            )}
          </aside>
        )}
      </div>
    </div>
  );
}

/** Up to so many faces are counted. */
const counted = 1000;
export const faceCount = (left: number) => (left >= counted ? `${counted.toLocaleString("en-GB")} faces or more` : plural(left, "face"));

const against = (p: Schema["PersonShown"]) => p.stands === "refused" || p.stands === "ended";
