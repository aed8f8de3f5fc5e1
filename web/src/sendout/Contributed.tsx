import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useContributions, useFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice } from "~/kit/Field";
import { plural } from "~/kit/words";
import { acceptContributions, binThese, changeGallery } from "./acts";
import { Small } from "./Small";

/** Contributed is whether and where to guests may add pictures, and a look at those that they added. */
export function Contributed({ brand, gallery: g }: { brand: string; gallery: Schema["Gallery"] }) {
  const all = useContributions(brand, g.id).data ?? [];
  const folders = useFolders(brand).data ?? [];
  const [some, setSome] = useState<number[]>([]);
  const waiting = all.filter((c) => c.asset && !c.accepted);
  const refused = all.filter((c) => c.state === "refused");
  const chosen = some.filter((id) => waiting.some((c) => c.asset === id));
  const ids = chosen.length ? chosen : waiting.map((c) => c.asset!);
  const accepted = all.filter((c) => c.accepted).length;
  return (
    <section aria-label="Pictures from guests" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">Pictures from guests</h2>
      <Choice
        label="Guests may add pictures of their own"
        value={g.takesInto ?? 0}
        options={[{ value: 0, label: "No" }, ...folders.map((f) => ({ value: f.id, label: `Yes, they come into “${f.name}”` }))]}
        onChange={(takesInto) => void changeGallery(brand, g.id, { takesInto })}
      />
      {all.length > 0 && (
        <p className="text-ink-soft">
          {plural(all.length, "file")} from guests: {waiting.length} to be looked at, {accepted} accepted
          {refused.length > 0 && `, ${refused.length} refused`}. Until you accept one, it is not shown outside by itself.{" "}
          {g.takesInto && (
            <Link
              to="/b/$brand/$step"
              params={{ brand, step: "file" }}
              search={{ place: "folder", id: g.takesInto }}
              className="text-sea underline"
            >
              See the folder
            </Link>
          )}
        </p>
      )}
      {waiting.length > 0 && (
        <>
          <ul className="flex flex-wrap gap-1.5" aria-label="To be looked at">
            {waiting.map((c) => (
              <li key={c.code}>
                <label className="block text-center text-small" title={`${c.name}, from ${c.guest}`}>
                  <Small brand={brand} id={c.asset!} />
                  <input
                    type="checkbox"
                    className="accent-sea"
                    aria-label={`${c.name}, from ${c.guest}`}
                    checked={some.includes(c.asset!)}
                    onChange={(e) => setSome(e.target.checked ? [...some, c.asset!] : some.filter((id) => id !== c.asset))}
                  />
                </label>
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-2">
            <Button tone="main" onClick={() => void acceptContributions(brand, g.id, ids)}>
              Accept {plural(ids.length, "picture")}
            </Button>
            <Button onClick={() => void binThese(brand, ids)}>Put {plural(ids.length, "picture")} in the bin</Button>
          </div>
        </>
      )}
      {refused.length > 0 && (
        <ul className="text-dense text-tomato">
          {refused.slice(0, 20).map((c) => (
            <li key={c.code}>
              {c.name}, from {c.guest}: {c.why}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
