import { Link } from "@tanstack/react-router";
import { CalendarDays, Drama, Globe, Images, Link2, ListChecks, Megaphone, MonitorPlay, Plug, Plus, Ruler } from "lucide-react";
import { useState } from "react";
import type { Me } from "~/api/client";
import { useDispatches, useEmbeds, useGalleries, useOverview, useParking } from "~/api/queries";
import { Button } from "~/kit/Button";
import { FirstStep } from "~/sheet/FirstStep";
import { useBrand, usePlace, type Place } from "~/sheet/place";
import { DownloadForm } from "./DownloadForm";
import { plural } from "~/kit/words";
import { emptyParking, placeOfThing } from "./things";
import { audience, NewGalleryDialog } from "./GalleryDialogs";

/** SendOutBoard hands out what is carried: as a ZIP, or in a client gallery. */
export function SendOutBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const empty = useOverview(brand).data?.everything === 0;
  return (
    <div className="space-y-7">
      {empty && (
        <section>
          <h2 className="mb-2 text-lg">Send out</h2>
          <FirstStep me={me}>
            From here pictures leave the house: resized in a ZIP, or in a gallery that a client opens by a link. Nothing is shown to anybody
            before you say so.
          </FirstStep>
        </section>
      )}
      {me.can.includes("download") && <DownloadForm brand={brand} />}
      <section>
        {me.can.includes("trail") && (
          <Link to="/b/$brand/taken-along" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
            <ListChecks size={18} className="shrink-0 text-ink-soft" /> What anybody took along
          </Link>
        )}
        {me.can.includes("settings") && (
          <Link to="/b/$brand/sizes" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
            <Ruler size={18} className="shrink-0 text-ink-soft" /> Change the output sizes, or make your own
          </Link>
        )}
      </section>
      {me.can.includes("galleries") && <Pages brand={brand} />}
      {me.can.includes("galleries") && <Galleries brand={brand} />}
      {me.can.includes("galleries") && <OnSites brand={brand} />}
    </div>
  );
}

/** placeOf is the album or folder that is open, for a gallery to show. */
function placeOf(place: Place) {
  if (place.place === "album" && place.id) return { album: place.id, below: false };
  return place.place === "folder" && place.id ? { folder: place.id, below: !!place.below } : undefined;
}

/** Pages leads to what was sent to pages, and says what needs somebody. */
function Pages({ brand }: { brand: string }) {
  const posts = useDispatches(brand).data?.flatMap((d) => d.posts) ?? [];
  const open = posts.filter((p) => p.phase === "unsure" || p.phase === "refused").length;
  const planned = posts.filter((p) => p.phase === "planned").length;
  return (
    <section>
      <h2 className="mb-2 text-lg">Pages</h2>
      <Link
        to="/b/$brand/outlets"
        params={{ brand }}
        search={{}}
        className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk"
      >
        <Plug size={18} className="shrink-0 text-ink-soft" /> Outlets, and what is there
      </Link>
      <Link to="/b/$brand/rehearsals" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <Drama size={18} className="shrink-0 text-ink-soft" /> Rehearsals
      </Link>
      <Link to="/b/$brand/screens" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <MonitorPlay size={18} className="shrink-0 text-ink-soft" /> Screens in the shop
      </Link>
      <Link to="/b/$brand/calendar" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <CalendarDays size={18} className="shrink-0 text-ink-soft" /> Calendar
      </Link>
      <Link to="/b/$brand/dispatches" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <Megaphone size={18} className="shrink-0 text-ink-soft" />
        <span className="min-w-0 flex-1">
          <span className="block">Dispatches</span>
          <span className={`block text-small ${open ? "text-tomato" : "text-ink-soft"}`}>
            {open
              ? `${plural(open, "post")} to decide about`
              : planned
                ? `${plural(planned, "post")} planned`
                : "What was sent to social pages, and what is planned"}
          </span>
        </span>
      </Link>
    </section>
  );
}

function Galleries({ brand }: { brand: string }) {
  const place = usePlace();
  const all = useGalleries(brand).data;
  const parking = useParking(brand, "gallery").data ?? emptyParking;
  const galleries = all?.filter((g) => g.open || !placeOfThing(parking, g.id).parked); // what is live says so although it is parked
  const [making, setMaking] = useState(false);
  return (
    <section>
      <header className="mb-2 flex items-center gap-2">
        <h2 className="flex-1 text-lg">Galleries</h2>
        <Button icon={<Plus size={18} />} onClick={() => setMaking(true)}>
          New gallery
        </Button>
      </header>
      {all?.length === 0 && (
        <p className="text-ink-soft">
          A gallery shows albums and folders to a client, or to everyone. It stays invisible until you open it.
        </p>
      )}
      <ul>
        {galleries?.map((g) => (
          <li key={g.id}>
            <Link
              to="/b/$brand/galleries"
              params={{ brand }}
              hash={`gallery-${g.id}`}
              className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk"
            >
              <Images size={18} className="shrink-0 text-ink-soft" />
              <span className="min-w-0 flex-1">
                <span className="block truncate">{g.title}</span>
                <span className={`block text-small ${g.open ? "text-plum" : "text-ink-soft"}`}>{audience(g)}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {making && <NewGalleryDialog brand={brand} place={placeOf(place)} onClose={() => setMaking(false)} />}
    </section>
  );
}

/** OnSites leads to what is live on other people's pages. */
function OnSites({ brand }: { brand: string }) {
  const embeds = useEmbeds(brand).data;
  const live = embeds?.filter((e) => e.live).length ?? 0;
  return (
    <section>
      <h2 className="mb-2 text-lg">Websites</h2>
      <Link to="/b/$brand/embeds" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <Globe size={18} className="shrink-0 text-ink-soft" />
        <span className="min-w-0 flex-1">
          <span className="block">Live on websites</span>
          <span className={`block text-small ${live ? "text-plum" : "text-ink-soft"}`}>
            {live ? `${plural(live, "embed")} shown outside` : "Albums and folders on your own pages"}
          </span>
        </span>
      </Link>
      <Link to="/b/$brand/addresses" params={{ brand }} className="flex items-center gap-2 rounded-patch px-2 py-1.5 hover:bg-sunk">
        <Link2 size={18} className="shrink-0 text-ink-soft" /> Public addresses, and sites that may pick
      </Link>
    </section>
  );
}
