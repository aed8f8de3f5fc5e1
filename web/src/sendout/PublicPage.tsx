import { Copy, Globe } from "lucide-react";
import { useState, type FormEvent } from "react";
import { mediaAddress, messageOf, ProblemError, type Me, type Schema } from "~/api/client";
import { useAddressSeen, useOutputSizes, usePublicAddresses, useSites } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { Choice, TextField } from "~/kit/Field";
import { copyText } from "~/kit/notes";
import { plural, titleOf } from "~/kit/words";
import { addSite, endPublic, removeSite } from "./acts";

const names = ["small", "medium", "large"];

/** PublicPage lists which single items anybody can open, and the websites whose editors may pick some. */
export function PublicPage({ me }: { me: Me }) {
  const brand = me.brand;
  const [size, setSize] = useState("medium");
  const sizes = useOutputSizes(brand).data ?? [];
  const [before, setBefore] = useState<number>();
  const addresses = usePublicAddresses(brand, before).data;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="public">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Public addresses</h1>
      </div>
      <div className="space-y-6 page-column">
        <Sites brand={brand} may={me.can.includes("settings")} />
        <section aria-label="Items that anybody can open">
          <div className="mb-2 flex flex-wrap items-end gap-3">
            <h2 className="min-w-56 flex-1 text-base">Items that anybody can open</h2>
            {!!addresses?.length && (
              <div className="w-64">
                <Choice
                  label="Addresses in the size"
                  value={size}
                  options={[
                    { value: "small", label: "small, 640 pixels wide" },
                    { value: "medium", label: "medium, 1280 pixels wide" },
                    { value: "large", label: "large, 1920 pixels wide" },
                    ...sizes.filter((s) => s.public).map((s) => ({ value: s.address, label: s.name })),
                  ]}
                  onChange={setSize}
                />
              </div>
            )}
          </div>
          {addresses?.length === 0 && before === undefined && (
            <p className="text-ink-soft">
              None yet. An item gets an address of its own when an editor picks it for a website, or from the menu of a selection: “Copy a
              public address”. It stays the same when the item is renamed, moved or gets a new version.
            </p>
          )}
          <ul className="space-y-2">
            {addresses?.map((a) => (
              <Address key={a.id} brand={brand} address={a} size={size} own={!names.includes(size)} />
            ))}
          </ul>
          <div className="mt-3 flex gap-2">
            {before !== undefined && <Button onClick={() => setBefore(undefined)}>The newest</Button>}
            {addresses?.length === 100 && <Button onClick={() => setBefore(addresses.at(-1)!.id)}>Older ones</Button>}
          </div>
        </section>
      </div>
    </div>
  );
}

const day = (at: string) => new Date(at).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });

function Address({ brand, address: a, size, own }: { brand: string; address: Schema["PublicAddress"]; size: string; own: boolean }) {
  const row = useRow(a.item);
  const [open, setOpen] = useState(false);
  const seen = useAddressSeen(brand, a.id, open).data;
  if (!row) rows.want([a.item]);
  const shown = own ? a.address + "/" + size : a.picture.picture.replace("{width}", size).replace("{format}", a.picture.formats.at(-1)!);
  return (
    <li className="flex flex-wrap items-center gap-3 rounded-patch border border-line bg-card p-2" data-address={a.item}>
      {row && <img src={mediaAddress(brand, row, "small")} alt="" className="h-14 w-20 rounded-patch object-cover" />}
      <div className="min-w-52 flex-1">
        <p className="truncate font-medium">{row ? titleOf(row) : ""}</p>
        <p className="text-small break-all text-plum">{shown}</p>
        <p className="text-small text-ink-soft">
          since {day(a.since)}
          {a.pages > 0 && (
            <>
              {" · "}
              <button type="button" className="underline" aria-expanded={open} onClick={() => setOpen(!open)}>
                seen on {plural(a.pages, "website")}
              </button>
            </>
          )}
        </p>
        {open && (
          <ul className="mt-1 text-small">
            {seen?.map((s) => (
              <li key={s.page} className="break-all">
                {s.page}, since {day(s.first)}, last seen {day(s.last)}
              </li>
            ))}
          </ul>
        )}
      </div>
      <Button icon={<Copy size={16} />} onClick={() => void copyText(shown, "the address")}>
        Copy the address
      </Button>
      <Button tone="quiet" onClick={() => void endPublic(brand, [a.id])}>
        Switch it off
      </Button>
    </li>
  );
}

/** Sites are the websites whose editors may pick items. Stewards let them. */
function Sites({ brand, may }: { brand: string; may: boolean }) {
  const sites = useSites(brand).data;
  return (
    <section aria-label="Websites whose editors may pick">
      <h2 className="mb-2 text-base">Websites whose editors may pick</h2>
      <ul className="space-y-2">
        {sites?.map((s) => (
          <li key={s.id} className="flex flex-wrap items-center gap-3 rounded-patch border border-line bg-card p-2" data-site={s.origin}>
            <Globe size={20} className="shrink-0 text-ink-soft" />
            <div className="min-w-52 flex-1">
              <p className="font-medium">{s.name}</p>
              <p className="text-small break-all text-ink-soft">{s.origin}</p>
            </div>
            <Button icon={<Copy size={16} />} onClick={() => void copyText(s.picker, "the address of the picker")}>
              Copy the picker’s address
            </Button>
            {may && (
              <Button tone="quiet" onClick={() => void removeSite(brand, s.id)}>
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {sites?.length === 0 && !may && <p className="text-ink-soft">There is none. A steward can let the editors of a website pick.</p>}
      {may && <NewSite brand={brand} />}
      {may && (
        <p className="mt-2 text-small text-ink-soft">
          The editor of the website opens the picker’s address in a window, signs in here, and chooses. What is chosen is told to pages of
          that website only.
        </p>
      )}
    </section>
  );
}

function NewSite({ brand }: { brand: string }) {
  const [origin, setOrigin] = useState("");
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<{ field?: string; text: string }>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await addSite(brand, { origin, name });
      setOrigin("");
      setName("");
    } catch (error) {
      setProblem({ field: error instanceof ProblemError ? error.problem.field : undefined, text: messageOf(error) });
    }
  };
  return (
    <form className="mt-3 flex flex-wrap items-start gap-2" onSubmit={(e) => void submit(e)}>
      <TextField
        className="min-w-52 flex-1"
        label="Address of a website"
        placeholder="https://www.example.org"
        required
        value={origin}
        problem={problem?.text}
        onChange={(e) => {
          setOrigin(e.target.value);
          setProblem(undefined);
        }}
        autoComplete="off"
      />
      <TextField
        className="min-w-40 flex-1"
        label="What you call it (optional)"
        value={name}
        maxLength={200}
        onChange={(e) => setName(e.target.value)}
        autoComplete="off"
      />
      <Button type="submit" className="mt-[26px]" disabled={!origin.trim()}>
        Let its editors pick
      </Button>
    </form>
  );
}
