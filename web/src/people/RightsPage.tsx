import { Eye, MoreHorizontal, Plus, UserPlus, X } from "lucide-react";
import { useState } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useAlbums, useFolders, useRights, useSees } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { Choice } from "~/kit/Field";
import { Menu } from "~/kit/Menu";
import { warn } from "~/kit/notes";
import { dayOf, items, plural } from "~/kit/words";
import { pathName } from "~/sheet/Heading";
import { LeaveDialog } from "./AccountPage";
import { giveGrant, newLink, setRole, takeGrant } from "./acts";
import { InviteDialog, LinkDialog } from "./InviteDialog";
import { roles } from "./roles";

type Member = Schema["Member"];
type Grant = Schema["Grant"];
type Role = Schema["Role"];
type Level = Schema["Level"];

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
  const [inviting, setInviting] = useState(false);
  const [leaving, setLeaving] = useState<Member>();
  const [link, setLink] = useState<{ name: string; invited: Schema["Invited"] }>();
  const linkFor = async (m: Member) => {
    try {
      setLink({ name: m.name, invited: await newLink(brand, m.id) });
    } catch (error) {
      warn(messageOf(error));
    }
  };
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
        <Button tone="main" icon={<UserPlus size={18} />} onClick={() => setInviting(true)}>
          Add somebody
        </Button>
      </div>
      <div className="space-y-8 page-column">
        <p className="text-ink-soft">
          This controls what people can do once signed in to {me.brandName}. What the public can reach without signing in is listed below.
        </p>
        <section aria-label="People">
          <ul className="divide-y divide-line">
            {rights?.people.map((m) => (
              <li key={m.id} className="grid items-start gap-x-4 gap-y-2 py-3 md:grid-cols-[1fr_11rem_1.2fr_auto]">
                <div className="min-w-0">
                  <p className="font-medium">{m.name}</p>
                  <p className="truncate text-dense text-ink-soft" title={m.email}>
                    {m.email}
                  </p>
                  {!m.joined && (
                    <p className="text-small text-ink-soft">
                      {m.linkEnds
                        ? `Has not signed in yet; the link works until ${dayOf(m.linkEnds)}.`
                        : "Has not signed in, and has no link that works."}
                    </p>
                  )}
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
                <span className="flex items-start gap-1">
                  <Button className="whitespace-nowrap" icon={<Eye size={16} />} onClick={() => setSeeing(m)}>
                    What {m.name.split(" ")[0]} sees
                  </Button>
                  <Menu
                    trigger={<IconButton label={`More about ${m.name}`} icon={<MoreHorizontal size={18} />} />}
                    items={[
                      {
                        label: m.joined ? "Make a link to choose a new password" : "Make a new link",
                        onSelect: () => void linkFor(m),
                      },
                      null,
                      {
                        label: m.id === me.id ? "Leave the brand…" : "Take out of the brand…",
                        danger: true,
                        onSelect: () => setLeaving(m),
                      },
                    ]}
                  />
                </span>
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
            <p className="text-ink-soft">Nothing. No gallery is open, and nothing is live on websites.</p>
          ) : (
            <ul>
              {rights?.public.map((p) => (
                <li key={p.kind + (p.path ?? "")} className="flex flex-wrap items-center gap-2 py-1" data-reachable={p.kind}>
                  <span aria-hidden="true" className="size-2 rounded-full bg-plum" />
                  {p.path ? (
                    <a className="text-sea underline" href={p.path}>
                      {p.name}
                    </a>
                  ) : (
                    p.name
                  )}
                  <span className="text-ink-soft">
                    {p.kind === "addresses" ? "of" : `${p.kind === "embed" ? "an embed" : "a gallery"} with`} {items(p.items)}, for {p.who}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
      {giving && <GrantDialog brand={brand} person={giving.person} role={giving.role} onClose={() => setGiving(undefined)} />}
      {seeing && <SeesDialog brand={brand} member={seeing} onClose={() => setSeeing(undefined)} />}
      {inviting && <InviteDialog brand={brand} onClose={() => setInviting(false)} />}
      {link && <LinkDialog {...link} onClose={() => setLink(undefined)} />}
      {leaving && <LeaveDialog brand={brand} person={leaving} own={leaving.id === me.id} onClose={() => setLeaving(undefined)} />}
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
      about="A folder is granted with its subfolders. An album can only be looked at."
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
