import { createRootRoute, createRoute, createRouter, Outlet, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useEffect } from "react";
import { useSession, type Action, type Me } from "~/api/client";
import { usePreferencesOnce } from "~/api/preferences";
import { queries, useMe } from "~/api/queries";
import { SignIn } from "~/people/SignIn";
import { later } from "~/kit/later";
import { readPlace } from "~/sheet/place";
import { settingsFor } from "./settingsFor";

const ArrivalsPage = later(async () => (await import("~/bringin/ArrivalsPage")).ArrivalsPage);
const AccountPage = later(async () => (await import("~/people/AccountPage")).AccountPage);
const BrandPage = later(async () => (await import("~/people/BrandPage")).BrandPage);
const JoinPage = later(async () => (await import("~/people/JoinPage")).JoinPage);
const RightsPage = later(async () => (await import("~/people/RightsPage")).RightsPage);
const PeopleShownPage = later(async () => (await import("~/describing/PeopleShownPage")).PeopleShownPage);
const TagsPage = later(async () => (await import("~/describing/TagsPage")).TagsPage);
const EmbedsPage = later(async () => (await import("~/sendout/EmbedsPage")).EmbedsPage);
const GalleriesPage = later(async () => (await import("~/sendout/GalleriesPage")).GalleriesPage);
const PickerPage = later(async () => (await import("~/sendout/PickerPage")).PickerPage);
const CalendarPage = later(async () => (await import("~/sendout/CalendarPage")).CalendarPage);
const DispatchesPage = later(async () => (await import("~/sendout/DispatchesPage")).DispatchesPage);
const RehearsalPage = later(async () => (await import("~/sendout/RehearsalPage")).RehearsalPage);
const RehearsalsPage = later(async () => (await import("~/sendout/RehearsalsPage")).RehearsalsPage);
const ScreensPage = later(async () => (await import("~/sendout/ScreensPage")).ScreensPage);
const OutletsPage = later(async () => (await import("~/sendout/OutletsPage")).OutletsPage);
const PublicPage = later(async () => (await import("~/sendout/PublicPage")).PublicPage);
const SizesPage = later(async () => (await import("~/sendout/SizesPage")).SizesPage);
const TakenAlongPage = later(async () => (await import("~/sendout/TakenAlongPage")).TakenAlongPage);
const TrailPage = later(async () => (await import("~/upkeep/TrailPage")).TrailPage);
const loadWorkspace = async () => (await import("./Workspace")).Workspace;
const Workspace = later(loadWorkspace);
const loadFrame = async () => (await import("./Frame")).Frame;
const Frame = later(loadFrame);
const SettingsFrame = later(async () => (await import("./SettingsFrame")).SettingsFrame);

if (window.location.pathname.startsWith("/b/")) {
  // who comes by the address of a brand mostly is signed in: what they will see is loaded while that is asked
  void loadFrame().catch(() => undefined);
  void loadWorkspace().catch(() => undefined);
}

const root = createRootRoute({ component: Outlet, notFoundComponent: () => <Lost /> });
const home = createRoute({ getParentRoute: () => root, path: "/", component: Home });
const signIn = createRoute({ getParentRoute: () => root, path: "/sign-in", component: Home });
const brand = createRoute({
  getParentRoute: () => root,
  path: "/b/$brand",
  component: () => (
    <Inside>
      {(me) => (
        <Frame me={me}>
          <Outlet />
        </Frame>
      )}
    </Inside>
  ),
});
const brandHome = createRoute({
  getParentRoute: () => brand,
  path: "/",
  component: Begin,
});
const step = createRoute({
  getParentRoute: () => brand,
  path: "$step",
  validateSearch: readPlace,
  component: () => <ForMe>{(me) => <Workspace me={me} />}</ForMe>,
});
const galleries = createRoute({
  getParentRoute: () => brand,
  path: "galleries",
  component: () => <ForMe needs="galleries">{(me) => <GalleriesPage brand={me.brand} />}</ForMe>,
});
const embeds = createRoute({
  getParentRoute: () => brand,
  path: "embeds",
  component: () => <ForMe needs="galleries">{(me) => <EmbedsPage brand={me.brand} />}</ForMe>,
});
const screens = createRoute({
  getParentRoute: () => brand,
  path: "screens",
  component: () => <ForMe needs="galleries">{(me) => <ScreensPage brand={me.brand} />}</ForMe>,
});
const rehearsals = createRoute({
  getParentRoute: () => brand,
  path: "rehearsals",
  component: () => <ForMe>{(me) => <RehearsalsPage me={me} />}</ForMe>,
});
const rehearsal = createRoute({
  getParentRoute: () => brand,
  path: "rehearsals/$id",
  component: function Rehearsal() {
    const { id } = rehearsal.useParams();
    return <ForMe>{(me) => <RehearsalPage key={id} me={me} id={Number(id)} />}</ForMe>;
  },
});
const dispatches = createRoute({
  getParentRoute: () => brand,
  path: "dispatches",
  component: () => <ForMe needs="galleries">{(me) => <DispatchesPage brand={me.brand} />}</ForMe>,
});
const calendar = createRoute({
  getParentRoute: () => brand,
  path: "calendar",
  component: () => <ForMe needs="galleries">{(me) => <CalendarPage brand={me.brand} />}</ForMe>,
});
const outlets = createRoute({
  getParentRoute: () => brand,
  path: "outlets",
  validateSearch: (search: Record<string, unknown>): { connected?: number | undefined; problem?: string | undefined } => ({
    connected: Number(search.connected) || undefined,
    problem: typeof search.problem === "string" ? search.problem : undefined,
  }),
  component: OfOutlets,
});
const addresses = createRoute({
  getParentRoute: () => brand,
  path: "addresses",
  component: () => <ForMe needs="galleries">{(me) => <PublicPage me={me} />}</ForMe>,
});
const sizes = createRoute({
  getParentRoute: () => brand,
  path: "sizes",
  component: () => <ForMe needs="download">{(me) => <SizesPage brand={me.brand} />}</ForMe>,
});
const takenAlong = createRoute({
  getParentRoute: () => brand,
  path: "taken-along",
  component: () => <ForMe needs="trail">{(me) => <TakenAlongPage brand={me.brand} />}</ForMe>,
});
const tags = createRoute({
  getParentRoute: () => brand,
  path: "tags",
  component: () => <ForMe>{(me) => <TagsPage me={me} />}</ForMe>,
});
const shown = createRoute({
  getParentRoute: () => brand,
  path: "people-shown",
  validateSearch: (search: Record<string, unknown>) => ({ person: Number(search.person) || undefined }),
  component: Shown,
});
const arrivals = createRoute({
  getParentRoute: () => brand,
  path: "arrivals",
  component: () => (
    <ForMe>
      {(me) => (
        <Settings me={me} needs="bring_in">
          {<ArrivalsPage brand={me.brand} me={me} />}
        </Settings>
      )}
    </ForMe>
  ),
});
const people = createRoute({
  getParentRoute: () => brand,
  path: "people",
  component: () => (
    <ForMe>
      {(me) => (
        <Settings me={me} needs="settings">
          {<RightsPage me={me} />}
        </Settings>
      )}
    </ForMe>
  ),
});
const settings = createRoute({
  getParentRoute: () => brand,
  path: "settings",
  component: () => <ForMe>{(me) => <Settings me={me}>{<BrandPage me={me} />}</Settings>}</ForMe>,
});
const account = createRoute({
  getParentRoute: () => brand,
  path: "account",
  component: () => <ForMe>{(me) => <AccountPage me={me} />}</ForMe>,
});
const joining = createRoute({ getParentRoute: () => root, path: "/join/$token", component: Join });
const picking = createRoute({
  getParentRoute: () => root,
  path: "/pick/$site",
  validateSearch: (search: Record<string, unknown>) => ({ state: typeof search.state === "string" ? search.state : undefined }),
  component: Pick,
});
const trail = createRoute({
  getParentRoute: () => brand,
  path: "trail",
  validateSearch: (search: Record<string, unknown>) => ({ item: Number(search.item) || undefined }),
  component: TrailOfBrand,
});

export const router = createRouter({
  routeTree: root.addChildren([
    home,
    signIn,
    joining,
    picking,
    brand.addChildren([
      brandHome,
      galleries,
      embeds,
      addresses,
      screens,
      rehearsals,
      rehearsal,
      dispatches,
      outlets,
      calendar,
      sizes,
      takenAlong,
      tags,
      shown,
      trail,
      arrivals,
      people,
      settings,
      account,
      step,
    ]),
  ]),
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}

/** Home takes one who is signed in to the library, and asks everybody else to sign in. */
function Home() {
  const { data: me, isPending } = useMe();
  const navigate = useNavigate();
  useEffect(() => {
    if (me) void navigate({ to: "/b/$brand", params: { brand: me.brand }, replace: true });
  }, [me, navigate]);
  if (isPending || me) return null;
  return <SignIn onIn={welcome} />;
}

/** Shown is who is shown, with the person who is chosen in the address. */
function Shown() {
  const { person } = shown.useSearch();
  const navigate = shown.useNavigate();
  return (
    <ForMe needs="closed_tags">
      {(me) => <PeopleShownPage me={me} person={person} onPerson={(id) => void navigate({ search: { person: id }, replace: true })} />}
    </ForMe>
  );
}

/** Join leads into the brand once a password was chosen. */
function Join() {
  const { token = "" } = useParams({ strict: false }) as { token?: string };
  return (
    <JoinPage
      token={token}
      onIn={(me) => {
        window.location.href = `/b/${me.brand}`; // whoever was signed in before leaves nothing behind
      }}
    />
  );
}

/** Pick is the picker of a website, for somebody who is signed in. */
function Pick() {
  const { site = "" } = useParams({ strict: false }) as { site?: string };
  const { state } = picking.useSearch();
  const { data: me, isPending } = useMe();
  if (isPending) return null;
  if (!me) return <SignIn onIn={welcome} />;
  return <PickerPage code={site} state={state} />;
}

function OfOutlets() {
  const { connected, problem } = outlets.useSearch();
  return <ForMe needs="galleries">{(me) => <OutletsPage me={me} connected={connected} problem={problem} />}</ForMe>;
}

function TrailOfBrand() {
  const { item } = useSearch({ strict: false }) as { item?: number };
  return <ForMe>{(me) => <TrailPage key={item} brand={me.brand} me={me} item={item} />}</ForMe>;
}

/** Settings shows a page of the settings to those who may see it. */
function Settings({ me, needs, children }: { me: Me; needs?: Action; children: React.ReactNode }) {
  if (settingsFor(me).length === 0 || (needs && !me.can.includes(needs))) return <NotMine brand={me.brand} />;
  return <SettingsFrame me={me}>{children}</SettingsFrame>;
}

/** Begin goes to the start place that one chose, else to the last place. */
function Begin() {
  const { brand: code = "" } = useParams({ strict: false }) as { brand?: string };
  const preferences = usePreferencesOnce(code);
  const navigate = useNavigate();
  useEffect(() => {
    if (!preferences) return;
    const to = readPlace((preferences.start ?? preferences.last ?? {}) as Record<string, unknown>);
    void navigate({ to: "/b/$brand/$step", params: { brand: code, step: "file" }, search: to as never, replace: true });
  }, [preferences, navigate, code]);
  return null;
}

function welcome(me: Me) {
  useSession.setState({ signedOut: false });
  queries.setQueryData(["me"], me);
  void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "me" });
}

/** Inside shows a page of the brand to somebody who is signed in. When the session ends meanwhile it asks to sign in on
 * top of the page, so that nothing that was begun is lost. */
function Inside({ children }: { children: (me: Me) => React.ReactNode }) {
  const { data: me, isPending, error } = useMe();
  const { brand: code } = useParams({ strict: false }) as { brand?: string };
  const signedOut = useSession((s) => s.signedOut);
  if (isPending) return null;
  if (!me) return <SignIn onIn={welcome} again={error !== null && signedOut} />;
  if (code && !me.brands.some((b) => b.code === code)) return <Lost />;
  return (
    <>
      {children(me)}
      {signedOut && (
        <div className="fixed inset-0 z-50 bg-paper">
          <SignIn onIn={welcome} again />
        </div>
      )}
    </>
  );
}

/** ForMe is a page within the frame, where one is known to be signed in. */
function ForMe({ needs, children }: { needs?: Action; children: (me: Me) => React.ReactNode }) {
  const { data: me } = useMe();
  if (!me) return null;
  return needs && !me.can.includes(needs) ? <NotMine brand={me.brand} /> : children(me);
}

/** NotMine says that a page is for others, to whoever came by its address. */
function NotMine({ brand }: { brand: string }) {
  return (
    <main className="grid min-h-0 flex-1 place-items-center overflow-y-auto p-6 text-center">
      <div>
        <h1 className="mb-2 text-xl">This page is for others</h1>
        <p className="mb-3 text-ink-soft">You may not use it. Ask a steward of the brand if you need to.</p>
        <a href={`/b/${brand}`} className="text-sea underline">
          To the library
        </a>
      </div>
    </main>
  );
}

function Lost() {
  return (
    <main className="grid min-h-full place-items-center p-6 text-center">
      <div>
        <h1 className="mb-2 text-2xl">There is nothing under this address</h1>
        <a href="/" className="text-sea underline">
          To the library
        </a>
      </div>
    </main>
  );
}
