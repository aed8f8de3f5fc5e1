import { Eye, Plus, X } from "lucide-react";
import { useState } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useAlbums, useFolders, useRights, useSees } from "~/api/queries";
import { Button, IconButton } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { warn } from "~/kit/notes";
import { items, plural } from "~/kit/words";
import { pathName } from "~/sheet/Heading";
import { giveGrant, newBrand, setRole, takeGrant } from "./acts";

type Member = Schema["Member"];
type Grant = Schema["Grant"];
type Role = Schema["Role"];
type Level = Schema["Level"];

const roles: { value: Role; label: string; about: string }[] = [
  { value: "steward", label: "steward", about: "everything, with people, brands and emptying the bin" },
  { value: "coordinator", label: "coordinator", about: "everything about media, but not people or settings" },
  { value: "contributor", label: "contributor", about: "looks everywhere; files and changes only where granted" },
  { value: "reviewer", label: "reviewer", about: "looks, stars and keeps; changes nothing else" },
  { value: "associate", label: "associate", about: "sees and does only what is granted" },
];
const levels: { value: Level; label: string }[] = [
  { value: "look", label: "look" },
  { value: "contribute", label: "contribute: bring in, describe and file" },
  { value: "manage", label: "manage: also put in the bin" },
];

/** RightsPage is where a steward says who may do what, and sees what that looks like for each. */
export function RightsPage({ me }: { me: Me }) {
  const brand = me.brand;
  const rights = useRights(brand).data;
  const [giving, setGiving] = useState<{ person?: Member; role?: Role }>();
  const [seeing, setSeeing] = useState<Member>();
  const [making, setMaking] = useState(false);
  const become = async (m: Member, role: Role) => {
    try {
      await setRole(brand, m.id, role);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="people">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">People and what they may do</h1>
        <Button onClick={() => setMaking(true)}>Make another brand</Button>
      </div>
      <div className="mx-auto max-w-4xl space-y-8 p-4">
        <p className="text-ink-soft">
          This controls what people can do once signed in to {me.brandName}. What the public can reach without signing in is listed below.
        </p>
        <section aria-label="People">
          <ul className="divide-y divide-line">
            {rights?.people.map((m) => (
              <li key={m.id} className="grid items-start gap-x-4 gap-y-2 py-3 md:grid-cols-[1fr_11rem_1.2fr_auto]">
                <div className="min-w-0">
                  <p className="font-medium">{m.name}</p>
                  <p className="text-dense text-ink-soft">{m.email}</p>
                </div>
                <div>
                  <select
                    aria-label={`What ${m.name} is`}
                    className="w-full rounded-patch border border-line-strong bg-card px-2 py-1.5"
                    value={m.role}
                    onChange={(e) => void become(m, e.target.value as Role)}
                  >
                    {roles.map((r) => (
                      <option key={r.value} value={r.value}>
                        {r.label}
                      </option>
                    ))}
                  </select>
                  <p className="mt-1 text-small text-ink-soft">{roles.find((r) => r.value === m.role)?.about}</p>
                </div>
                <div className="min-w-0">
                  <Grants brand={brand} grants={rights.grants.filter((g) => g.person === m.id)} />
                  <Button tone="quiet" icon={<Plus size={16} />} onClick={() => setGiving({ person: m })}>
                    Grant a folder or album
                  </Button>
                </div>
                <Button className="justify-self-start md:w-40" icon={<Eye size={16} />} onClick={() => setSeeing(m)}>
                  What {m.name.split(" ")[0]} sees
                </Button>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="mb-1 text-lg">Granted to a role</h2>
          <p className="mb-2 text-ink-soft">What everybody who is, say, a contributor or an associate may do besides.</p>
          <ul className="divide-y divide-line">
            {roles.slice(2).map((r) => (
              <li key={r.value} className="flex flex-wrap items-start gap-4 py-2">
                <span className="w-40">every {r.label}</span>
                <div className="min-w-56 flex-1">
                  <Grants brand={brand} grants={rights?.grants.filter((g) => g.role === r.value) ?? []} />
                  <Button tone="quiet" icon={<Plus size={16} />} onClick={() => setGiving({ role: r.value })}>
                    Grant every {r.label} a folder or album
                  </Button>
                </div>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="mb-1 text-lg">What the public can reach</h2>
          {rights?.public.length === 0 ? (
            <p className="text-ink-soft">Nothing. No client gallery is open.</p>
          ) : (
            <ul>
              {rights?.public.map((p) => (
                <li key={p.code} className="flex flex-wrap items-center gap-2 py-1">
                  <span aria-hidden="true" className="size-2 rounded-full bg-plum" />
                  <a className="text-sea underline" href={`/g/${p.code}`}>
                    {p.title}
                  </a>
                  <span className="text-ink-soft">
                    a client gallery with {items(p.items)}, for{" "}
                    {p.hasPassword ? "everybody who has the link and the password" : "everybody who has the link"}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
      {giving && <GrantDialog brand={brand} person={giving.person} role={giving.role} onClose={() => setGiving(undefined)} />}
      {seeing && <SeesDialog brand={brand} member={seeing} onClose={() => setSeeing(undefined)} />}
      {making && <BrandDialog brand={brand} onClose={() => setMaking(false)} />}
    </div>
  );
}

function Grants({ brand, grants }: { brand: string; grants: Grant[] }) {
  const folders = useFolders(brand).data;
  const albums = useAlbums(brand).data;
  const name = (g: Grant) => (g.folder ? pathName(folders, g.folder) : `album ${albums?.find((a) => a.id === g.album)?.name ?? ""}`);
  return (
    <ul className="space-y-0.5">
      {grants.map((g) => (
        <li key={g.id} className="flex items-center gap-2">
          <span className="min-w-0 truncate">
            <span className="rounded-full bg-sunk px-2 py-0.5 text-small">{g.level}</span> {name(g)}
          </span>
          <IconButton
            label={`Take away: ${g.level} in ${name(g)}`}
            className="size-6"
            icon={<X size={14} />}
            onClick={() => void takeGrant(brand, g.id)}
          />
        </li>
      ))}
    </ul>
  );
}

function GrantDialog({ brand, person, role, onClose }: { brand: string; person?: Member; role?: Role; onClose: () => void }) {
  const folders = useFolders(brand).data ?? [];
  const albums = useAlbums(brand).data ?? [];
  const [what, setWhat] = useState("");
  const [level, setLevel] = useState<Level>("look");
  const options = [
    { value: "", label: "Choose one" },
    ...folders.map((f) => ({
      value: `folder ${f.id}`,
      label: pathName(folders, f.id),
    })),
    ...albums.map((a) => ({ value: `album ${a.id}`, label: `Album: ${a.name}` })),
  ];
  const [kind, id] = what.split(" ");
  const give = async () => {
    onClose();
    await giveGrant(brand, { person: person?.id, role, level, [kind === "album" ? "album" : "folder"]: Number(id) });
  };
  return (
    <Dialog
      title={`A grant for ${person?.name ?? `every ${role}`}`}
      about="A folder is granted with everything below it. An album can only be looked at."
      onClose={onClose}
    >
      <div className="space-y-3">
        <Choice label="Folder or album" value={what} options={options} onChange={setWhat} />
        {kind !== "album" && <Choice label="What they may do there" value={level} options={levels} onChange={setLevel} />}
        <Button tone="main" disabled={!what} onClick={() => void give()}>
          Give the grant
        </Button>
      </div>
    </Dialog>
  );
}

function SeesDialog({ brand, member, onClose }: { brand: string; member: Member; onClose: () => void }) {
  const sees = useSees(brand, member.id).data;
  const all = useFolders(brand).data ?? [];
  return (
    <Dialog wide title={`What this looks like for ${member.name}`} onClose={onClose}>
      {!sees ? (
        <p className="text-ink-soft">Looking…</p>
      ) : (
        <div className="space-y-3" data-sees={sees.items}>
          <p>
            {member.name} sees {items(sees.items)}, {plural(sees.folders.length, "folder")} of {all.length} and{" "}
            {plural(sees.albums.length, "album")}.
          </p>
          <p className="text-ink-soft">May somewhere: {sees.can.map((c) => c.replace("_", " ")).join(", ")}.</p>
          <ul className="max-h-72 overflow-y-auto" tabIndex={0} aria-label="Folders that they see">
            {sees.folders.map((f) => (
              <li key={f.id} className="flex gap-2 border-b border-line py-1">
                <span className="min-w-0 flex-1 truncate">{pathName(all, f.id)}</span>
                <span className="text-ink-soft">
                  {f.may?.length === 0 ? "only on the way" : items(f.own)}
                  {f.may?.includes("file") ? ", files there" : ""}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </Dialog>
  );
}

function BrandDialog({ brand, onClose }: { brand: string; onClose: () => void }) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const make = async () => {
    try {
      const made = await newBrand(brand, name);
      window.location.href = `/b/${made.code}`;
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title="Make another brand"
      about="With a library of its own. Nothing of one brand can be reached from another. You are its first steward."
      onClose={onClose}
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <TextField
          label="Name"
          autoFocus
          value={name}
          problem={problem}
          maxLength={100}
          onChange={(e) => setName(e.target.value)}
          autoComplete="off"
        />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          Make the brand
        </Button>
      </form>
    </Dialog>
  );
}
