import { Copy, Mail, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { copyText } from "~/kit/notes";
import { plural, when } from "~/kit/words";
import { letterAgain, withdrawGuest } from "./acts";
import { LettersDialog } from "./LettersDialog";

type Guest = Schema["Guest"];

/** letterWords says what came of the last letter to a guest. */
function letterWords(g: Guest) {
  if (g.withdrawn) return "their link was taken back";
  const kind = g.letterKind === "invitation" ? "invitation" : g.letterKind === "reminder" ? "reminder" : "letter about new pictures";
  switch (g.letterState) {
    case "waiting":
      return g.letterWhy ? `${kind} not sent yet: ${g.letterWhy}` : `${kind} is on its way`;
    case "sending":
      return `${kind} is on its way`;
    case "sent":
      return `${kind} sent`;
    case "refused":
      return `${kind} came back: ${g.letterWhy}`;
    case "unsure":
      return `${kind} may have arrived: ${g.letterWhy}`;
    default:
      return g.invited ? "invited" : "gave a name";
  }
}

/** GalleryGuests are those who were invited or gave a name, with what they did, and the letters to them. */
export function GalleryGuests({
  brand,
  gallery: g,
  inside,
}: {
  brand: string;
  gallery: Schema["Gallery"];
  inside: Schema["GalleryInside"];
}) {
  const [writing, setWriting] = useState<Schema["Mailing"]["kind"]>();
  const invited = inside.guests.some((u) => u.email && !u.withdrawn);
  return (
    <section aria-label="Guests" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="flex-1 text-base">Guests</h2>
        <Button icon={<Mail size={16} />} onClick={() => setWriting("invitation")}>
          Invite…
        </Button>
        {invited && (
          <>
            <Button onClick={() => setWriting("new_pictures")}>Tell of new pictures…</Button>
            <Button onClick={() => setWriting("reminder")}>Remind…</Button>
          </>
        )}
      </div>
      {inside.guests.length === 0 && (
        <p className="text-ink-soft">
          Nobody yet. Each guest whom you invite gets a link of their own, which you can take back; others are known once they give a name.
        </p>
      )}
      <ul className="max-h-96 space-y-1 overflow-y-auto">
        {inside.guests.map((u) => (
          <Row key={u.id} brand={brand} gallery={g} guest={u} />
        ))}
      </ul>
      {writing && <LettersDialog brand={brand} gallery={g} kind={writing} ready={inside.letters} onClose={() => setWriting(undefined)} />}
    </section>
  );
}

function Row({ brand, gallery, guest: u }: { brand: string; gallery: Schema["Gallery"]; guest: Guest }) {
  const did = [
    u.visits > 0 && `opened ${plural(u.visits, "time")}${u.lastSeen ? `, last ${when(u.lastSeen)}` : ""}`,
    u.marks > 0 && `chose ${u.marks}`,
    u.remarks > 0 && plural(u.remarks, "remark"),
    u.took > 0 && `took ${plural(u.took, "file")}`,
    u.silent && "wants no more letters",
  ].filter(Boolean);
  const wrong = !u.withdrawn && (u.letterState === "refused" || u.letterState === "unsure");
  const link = `${window.location.origin}${u.path}`;
  return (
    <li data-guest={u.email || u.name} className="flex items-start gap-2 border-t border-line py-1.5 first:border-0">
      <div className="min-w-0 flex-1">
        <p className="truncate">
          <span className="font-medium">{u.name || u.email}</span> {u.name && u.email && <span className="text-ink-soft">{u.email}</span>}
        </p>
        <p className={`text-small break-words ${wrong ? "text-tomato" : "text-ink-soft"}`}>{[letterWords(u), ...did].join(" · ")}</p>
      </div>
      <Menu
        trigger={<IconButton label={`More about ${u.name || u.email}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
        items={[
          ...(u.invited && !u.withdrawn && u.path
            ? [{ label: "Copy their own link", icon: <Copy size={16} />, onSelect: () => void copyText(link, "the link") }]
            : []),
          ...(wrong ? [{ label: "It did not arrive: send it again", onSelect: () => void letterAgain(brand, u.letter!) }] : []),
          ...(!u.withdrawn
            ? [{ label: "Take their link back", danger: true, onSelect: () => void withdrawGuest(brand, gallery.id, u.id) }]
            : []),
        ]}
      />
    </li>
  );
}
