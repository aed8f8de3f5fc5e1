import { clsx } from "clsx";
import { Link, useNavigate } from "@tanstack/react-router";
import { Monitor, Moon, MoreHorizontal, Plus, Smartphone, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import type { Me, Schema } from "~/api/client";
import { usePages, useRehearsal, useSatchel } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { SavedField } from "~/kit/SavedField";
import { plural } from "~/kit/words";
import { addVariant, changeRehearsal, changeVariant, refreshPages, removeRehearsal, removeVariant } from "./acts";
import { DispatchDialog } from "./DispatchDialog";
import { placeNames, RehearsalFrame, widthOf, type Device, type Shape, type Variant } from "./RehearsalFrame";
import { RehearsalRemarks } from "./RehearsalRemarks";

type Rehearsal = Schema["Rehearsal"];

/** RehearsalPage shows the variants of a post or an advertisement beside each other, in the kinds of places where they could be seen. */
export function RehearsalPage({ me, id }: { me: Me; id: number }) {
  const brand = me.brand;
  const { data: r, error } = useRehearsal(brand, id);
  const [device, setDevice] = useState<Device>("phone");
  const [dark, setDark] = useState(false);
  const navigate = useNavigate();
  const may = me.can.includes("galleries");
  useEffect(() => {
    if (may) void refreshPages(brand); // to which it can be given
  }, [brand, may]);
  if (error || !r)
    return (
      <div className="p-6" data-page="rehearsal">
        <p className={error ? "text-tomato" : "text-ink-soft"}>{error ? error.message : "Loading…"}</p>
        <Link to="/b/$brand/rehearsals" params={{ brand }} className="text-sea underline">
          All rehearsals
        </Link>
      </div>
    );
  const shapes = r.kinds.filter((k) => r.places.includes(k.kind));
  const remove = async () => {
    await removeRehearsal(brand, r.id);
    void navigate({ to: "/b/$brand/rehearsals", params: { brand } });
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="rehearsal">
      <div className="stitch-b flex flex-wrap items-center gap-2 px-4 py-2">
        <h1 className="min-w-56 flex-1 text-lg break-words">
          <Link to="/b/$brand/rehearsals" params={{ brand }} className="text-sea underline">
            Rehearsals
          </Link>{" "}
          / {r.name}
        </h1>
        <Toggle label="On a phone" on={device === "phone"} icon={<Smartphone size={16} />} onPress={() => setDevice("phone")} />
        <Toggle label="On a desktop" on={device === "desktop"} icon={<Monitor size={16} />} onPress={() => setDevice("desktop")} />
        <Toggle label="Light" on={!dark} icon={<Sun size={16} />} onPress={() => setDark(false)} />
        <Toggle label="Dark" on={dark} icon={<Moon size={16} />} onPress={() => setDark(true)} />
        {may && (
          <Menu
            trigger={<IconButton label="More about the rehearsal" icon={<MoreHorizontal size={18} />} />}
            items={[{ label: "Remove the rehearsal", danger: true, onSelect: () => void remove() }]}
          />
        )}
      </div>
      <div className="flex flex-wrap items-end gap-3 px-4 py-3">
        {may && (
          <div className="w-64">
            <SavedField
              label="Name"
              value={r.name}
              maxLength={200}
              check={(text) => (text.trim() ? undefined : "A rehearsal needs a name.")}
              onSave={(name) => changeRehearsal(brand, r.id, { name })}
            />
          </div>
        )}
        {may && <Places brand={brand} rehearsal={r} />}
        {r.sent > 0 && (
          <Link to="/b/$brand/dispatches" params={{ brand }} className="pb-1 text-plum underline">
            {r.sent === 1 ? "Sent once from here" : `Sent ${r.sent} times from here`}
          </Link>
        )}
      </div>
      <div className="space-y-5 px-4 pb-4">
        {r.variants.map((v) => (
          <OneVariant key={v.id} brand={brand} rehearsal={r} variant={v} shapes={shapes} device={device} dark={dark} may={may} />
        ))}
        {may && (
          <Button icon={<Plus size={16} />} onClick={() => void addVariant(brand, r.id)}>
            Add a variant, beginning like the last one
          </Button>
        )}
        <RehearsalRemarks brand={brand} rehearsal={r} may={may} />
      </div>
    </div>
  );
}

function Toggle({ label, on, icon, onPress }: { label: string; on: boolean; icon: React.ReactNode; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={clsx(
        "flex items-center gap-1 rounded-patch border px-2 py-1 text-dense",
        on ? "border-saffron bg-saffron-wash" : "border-line bg-card hover:bg-sunk",
      )}
      onClick={onPress}
    >
      {icon} {label}
    </button>
  );
}

/** Places chooses the kinds of places that are shown. */
function Places({ brand, rehearsal: r }: { brand: string; rehearsal: Rehearsal }) {
  return (
    <fieldset className="flex flex-wrap gap-x-4 gap-y-1 pb-1">
      <legend className="text-dense text-ink-soft">Where it could be seen</legend>
      {r.kinds.map((k) => (
        <label key={k.kind} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={r.places.includes(k.kind)}
            disabled={r.places.length === 1 && r.places.includes(k.kind)}
            onChange={(e) =>
              void changeRehearsal(brand, r.id, {
                places: e.target.checked ? [...r.places, k.kind] : r.places.filter((p) => p !== k.kind),
              })
            }
          />
          {placeNames[k.kind]}
        </label>
      ))}
    </fieldset>
  );
}

function OneVariant({
  brand,
  rehearsal: r,
  variant: v,
  shapes,
  device,
  dark,
  may,
}: {
  brand: string;
  rehearsal: Rehearsal;
  variant: Variant;
  shapes: Shape[];
  device: Device;
  dark: boolean;
  may: boolean;
}) {
  const [giving, setGiving] = useState<number>();
  const pages = usePages(brand, may).data ?? [];
  const carried = useSatchel(brand, may).data ?? [];
  const set = (change: Schema["VariantChange"]) => changeVariant(brand, r.id, v.id, change);
  return (
    <section aria-label={`Variant ${v.name}`} className="rounded-xl border border-line bg-card p-3" data-variant={v.name}>
      <header className="mb-2 flex flex-wrap items-center gap-2">
        <h2 className="min-w-24 flex-1 text-base">Variant {v.name}</h2>
        {may && v.items.length > 0 && pages.length > 0 && (
          <Menu
            trigger={<Button>Give it to a page…</Button>}
            items={pages.map((p) => ({ label: p.name, onSelect: () => setGiving(p.id) }))}
          />
        )}
        {may && (
          <Menu
            trigger={<IconButton label={`More about variant ${v.name}`} icon={<MoreHorizontal size={18} />} />}
            items={[
              { label: "Add one that begins like this", onSelect: () => void addVariant(brand, r.id, v.id) },
              ...(carried.length > 0
                ? [
                    {
                      label: `Show what is in the satchel instead (${carried.length})`,
                      onSelect: () => void set({ items: { ids: carried.map((c) => c.id) } }),
                    },
                  ]
                : []),
              ...(r.variants.length > 1
                ? [null, { label: "Remove this variant", danger: true, onSelect: () => void removeVariant(brand, r.id, v.id) }]
                : []),
            ]}
          />
        )}
      </header>
      {v.gone > 0 && (
        <p className="mb-2 text-small text-tomato">
          {plural(v.gone, "picture")} of it {v.gone === 1 ? "is" : "are"} not in the library any more.
        </p>
      )}
      <div className="flex flex-col gap-4 lg:flex-row">
        {may ? (
          <div className="w-full shrink-0 space-y-2 lg:w-60">
            <SavedField label="Words" kind="text" value={v.caption} maxLength={10000} onSave={(caption) => set({ caption })} />
            <SavedField label="Headline" value={v.headline} maxLength={10000} onSave={(headline) => set({ headline })} />
            <SavedField label="Button" value={v.button} maxLength={60} placeholder="See the kites" onSave={(button) => set({ button })} />
          </div>
        ) : null}
        <ul className="flex min-w-0 flex-1 items-start gap-4 overflow-x-auto pb-2" aria-label={`Variant ${v.name} in its places`}>
          {shapes.map((shape) => (
            <Seen key={shape.kind} brand={brand} shape={shape} variant={v} device={device} dark={dark} />
          ))}
        </ul>
      </div>
      {giving !== undefined && (
        <DispatchDialog
          brand={brand}
          selection={{ ids: v.items }}
          count={v.items.length}
          caption={v.caption}
          rehearsal={{ id: r.id, page: giving }}
          onClose={() => setGiving(undefined)}
        />
      )}
    </section>
  );
}

/** Seen is a frame made smaller, so that several have room beside each other; pressed, it is shown at its real size. */
function Seen({ brand, shape, variant, device, dark }: { brand: string; shape: Shape; variant: Variant; device: Device; dark: boolean }) {
  const [whole, setWhole] = useState(false);
  const zoom = whole ? 1 : Math.min(1, (shape.kind === "wide" || shape.kind === "strip" ? 194 : 165) / widthOf(shape, device));
  const part = variant.seen.find((s) => s.kind === shape.kind)?.part;
  return (
    <li className="shrink-0">
      <p className="mb-1 flex items-baseline gap-2 text-small">
        <span className="font-medium">{placeNames[shape.kind]}</span>
        <button type="button" className="text-sea underline" aria-pressed={whole} onClick={() => setWhole(!whole)}>
          {whole ? "Smaller" : "Real size"}
        </button>
      </p>
      <div style={{ zoom }}>
        <RehearsalFrame brand={brand} shape={shape} variant={variant} device={device} dark={dark} />
      </div>
      {part !== undefined && part < 0.995 && (
        <p className="mt-1 text-small text-ink-soft">{Math.round(part * 100)} % of the picture is seen</p>
      )}
    </li>
  );
}
