import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { Asking } from "./asking";
import { ask, client, type Action, type Schema, type Selection, type SheetQuery } from "./client";

export const queries = new Asking({ defaultOptions: { queries: { staleTime: 60_000, retry: 1, refetchOnWindowFocus: false } } });

const at = (brand: string) => ({ params: { path: { brand } } });

/** The brand in the address: another one is another page load, so that nothing of the one is left on the screen. */
const presentBrand = () => /^\/b\/([^/]+)/.exec(window.location.pathname)?.[1];

export const useMe = () =>
  useQuery({
    queryKey: ["me"],
    queryFn: () => ask(client.GET("/api/session", { params: { query: { brand: presentBrand() } } })),
    retry: false,
  });
export const useOverview = (brand: string) =>
  useQuery({ queryKey: ["overview"], queryFn: () => ask(client.GET("/api/brands/{brand}/overview", at(brand))) });
export type Folder = Schema["Folder"] & { may: Action[] };

/** useFolders lists the folders; what one may do in each is as everywhere unless the server says otherwise. */
export function useFolders(brand: string) {
  const can = useMe().data?.can;
  return useQuery({
    queryKey: ["folders"],
    queryFn: () => ask(client.GET("/api/brands/{brand}/folders", at(brand))),
    select: useCallback((folders: Schema["Folder"][]) => withRights(folders, can ?? none), [can]),
  });
}

const none: Action[] = [];
const rightsKnown = new WeakMap<Schema["Folder"][], { can: Action[]; folders: Folder[] }>();

/** withRights fills in what one may do, once for all who ask: there can be thousands of folders. */
function withRights(folders: Schema["Folder"][], can: Action[]): Folder[] {
  let known = rightsKnown.get(folders);
  if (known?.can !== can) {
    known = { can, folders: folders.map((f) => ({ ...f, may: f.may ?? can })) };
    rightsKnown.set(folders, known);
  }
  return known.folders;
}
export const useAlbums = (brand: string) =>
  useQuery({ queryKey: ["albums"], queryFn: () => ask(client.GET("/api/brands/{brand}/albums", at(brand))) });
/** useAlbumChoice says how an album stands to the choice that it was made of. */
export const useAlbumChoice = (brand: string, id: number) =>
  useQuery({
    queryKey: ["album-choice", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/albums/{id}/choice", { params: { path: { brand, id } } })),
  });
export const useTagGroups = (brand: string, on = true) =>
  useQuery({
    queryKey: ["tag-groups"],
    enabled: on,
    queryFn: () => ask(client.GET("/api/brands/{brand}/tag-groups", at(brand))),
  });
export const useSpellings = (brand: string) =>
  useQuery({ queryKey: ["tag-spellings"], queryFn: () => ask(client.GET("/api/brands/{brand}/tag-spellings", at(brand))) });
export const useSuggestedTags = (brand: string, id: number, on: boolean) =>
  useQuery({
    queryKey: ["suggested-tags", id],
    enabled: on,
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}/suggested-tags", { params: { path: { brand, id } } })),
  });
export const useTag = (brand: string, id: number) =>
  useQuery({
    queryKey: ["tag", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/tags/{id}", { params: { path: { brand, id } } })),
  });
export const useTags = (brand: string) =>
  useQuery({ queryKey: ["tags"], queryFn: () => ask(client.GET("/api/brands/{brand}/tags", at(brand))) });
export const usePeopleShown = (brand: string, on = true) =>
  useQuery({ queryKey: ["people-shown"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/people-shown", at(brand))) });
/** useNextFace is the next face without a name after one, or the one before it. */
export const useNextFace = (brand: string, after: number, back: boolean, on = true) =>
  useQuery({
    queryKey: ["next-face", after, back],
    enabled: on,
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/faces/next", { params: { path: { brand }, query: { after, back } } })),
  });
export const useSatchel = (brand: string, on = true) =>
  useQuery({ queryKey: ["satchel"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/satchel", at(brand))) });
export const useIntakes = (brand: string) =>
  useQuery({ queryKey: ["intakes"], queryFn: () => ask(client.GET("/api/brands/{brand}/intakes", at(brand))) });
export const useIntake = (brand: string, id: number | undefined) =>
  useQuery({
    queryKey: ["intakes", id],
    enabled: id !== undefined,
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/intakes/{id}", { params: { path: { brand, id: id! } } })),
  });
export const useIntakeTargets = (brand: string) =>
  useQuery({ queryKey: ["intakes", "targets"], queryFn: () => ask(client.GET("/api/brands/{brand}/intake-targets", at(brand))) });
export const useServerFolders = (brand: string, on = true) =>
  useQuery({ queryKey: ["server-folders"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/server-folders", at(brand))) });
export const useWatchedFolders = (brand: string, on = true) =>
  useQuery({
    queryKey: ["watched-folders"],
    enabled: on,
    queryFn: () => ask(client.GET("/api/brands/{brand}/watched-folders", at(brand))),
  });
export const useOutlets = (brand: string, on = true) =>
  useQuery({ queryKey: ["outlets"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/outlets", at(brand))) });
export const useTwins = (brand: string, intake?: number) =>
  useQuery({
    queryKey: ["twins", intake],
    queryFn: () => ask(client.GET("/api/brands/{brand}/twins", { params: { path: { brand }, query: { intake } } })),
  });
export const useLimits = (brand: string, on = true) =>
  useQuery({ queryKey: ["limits"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/limits", at(brand))) });
export const useLooking = (brand: string, on = true) =>
  useQuery({ queryKey: ["looking"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/looking", at(brand))) });
export const useDownloads = (brand: string, on = true) =>
  useQuery({ queryKey: ["downloads"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/downloads", at(brand))) });
export const useOutputSizes = (brand: string) =>
  useQuery({ queryKey: ["sizes"], queryFn: () => ask(client.GET("/api/brands/{brand}/output-sizes", at(brand))) });
/** useSendingCheck says what is against sending out a selection. */
export const useSendingCheck = (brand: string, selection: Schema["Selection"] | undefined) =>
  useQuery({
    queryKey: ["sending-check", selection],
    enabled: selection !== undefined,
    placeholderData: (before) => before,
    queryFn: () => ask(client.POST("/api/brands/{brand}/check", { ...at(brand), body: selection! })),
  });
export const useGalleryCheck = (brand: string, id: number) =>
  useQuery({
    queryKey: ["sending-check", "gallery", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/galleries/{id}/check", { params: { path: { brand, id } } })),
  });
/** useTakenAlong lists what anybody took along before an id, the newest first. */
export const useTakenAlong = (brand: string, before: number | undefined) =>
  useQuery({
    queryKey: ["taken-along", before],
    queryFn: () => ask(client.GET("/api/brands/{brand}/taken-along", { params: { path: { brand }, query: { before } } })),
  });
export const useSizeCosts = (brand: string) =>
  useQuery({ queryKey: ["size-costs"], queryFn: () => ask(client.GET("/api/brands/{brand}/output-sizes/costs", at(brand))) });
export const useGalleries = (brand: string, on = true) =>
  useQuery({ queryKey: ["galleries"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/galleries", at(brand))) });
/** useGalleryInside is what goes on in a gallery. */
export const useGalleryInside = (brand: string, id: number) =>
  useQuery({
    queryKey: ["gallery-inside", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/galleries/{id}/inside", { params: { path: { brand, id } } })),
  });
/** useContributions lists what guests added to a gallery. */
export const useContributions = (brand: string, id: number) =>
  useQuery({
    queryKey: ["contributions", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/galleries/{id}/contributions", { params: { path: { brand, id } } })),
  });
export const useEmbeds = (brand: string, on = true) =>
  useQuery({ queryKey: ["embeds"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/embeds", at(brand))) });
/** useEmbedded is what an embed shows, or would show. */
export const useEmbedded = (brand: string, id: number) =>
  useQuery({
    queryKey: ["embedded", id],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/embeds/{id}/shown", { params: { path: { brand, id } } })),
  });
export const useEmbedCheck = (brand: string, id: number) =>
  useQuery({
    queryKey: ["sending-check", "embed", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/embeds/{id}/check", { params: { path: { brand, id } } })),
  });
/** useEmbedSeen lists the pages that were seen to show an embed. */
export const useEmbedSeen = (brand: string, id: number) =>
  useQuery({
    queryKey: ["embed-seen", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/embeds/{id}/seen", { params: { path: { brand, id } } })),
  });
/** useSites lists the websites whose editors may pick. */
export const useSites = (brand: string) =>
  useQuery({ queryKey: ["sites"], queryFn: () => ask(client.GET("/api/brands/{brand}/sites", at(brand))) });
/** useOutletServices lists the services in whose accounts people can let the server. */
export const useOutletServices = (brand: string) =>
  useQuery({ queryKey: ["outlet-services"], queryFn: () => ask(client.GET("/api/brands/{brand}/outlet-services", at(brand))) });
/** usePages lists the pages that posts can be sent to. */
export const usePages = (brand: string, on = true) =>
  useQuery({ queryKey: ["pages"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/pages", at(brand))) });
/** usePageCrops says what each connected page takes of an item, to those who may send something there. */
export const usePageCrops = (brand: string, id: number) =>
  useQuery({
    queryKey: ["page-crops", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}/page-crops", { params: { path: { brand, id } } })),
  });
/** useDispatchCheck says what is against a dispatch. */
export const useDispatchCheck = (brand: string, wanted: Schema["NewDispatch"], on: boolean) =>
  useQuery({
    queryKey: ["dispatch-check", wanted],
    enabled: on && wanted.pages.length > 0,
    placeholderData: (before) => before,
    queryFn: () => ask(client.POST("/api/brands/{brand}/dispatches/check", { ...at(brand), body: wanted })),
  });
/** useDispatches lists what was sent to pages and what is planned, before an id, the newest first. */
export const useDispatches = (brand: string, before?: number) =>
  useQuery({
    queryKey: ["dispatches", before],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/dispatches", { params: { path: { brand }, query: { before } } })),
  });
/** useCalendar lists what goes out and went out from a moment until before another one. */
export const useCalendar = (brand: string, from: string, to: string) =>
  useQuery({
    queryKey: ["calendar", from, to],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/calendar", { params: { path: { brand }, query: { from, to } } })),
  });
/** useCalendarDays says how many posts are due on each day from a moment until before another one. */
export const useCalendarDays = (brand: string, from: string, to: string) =>
  useQuery({
    queryKey: ["calendar", "days", from, to],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/calendar-days", { params: { path: { brand }, query: { from, to } } })),
  });
/** usePageFeeds lists what feeds pages by itself. */
export const usePageFeeds = (brand: string) =>
  useQuery({ queryKey: ["page-feeds"], queryFn: () => ask(client.GET("/api/brands/{brand}/page-feeds", at(brand))) });
/** usePlaced lists which pages show items now, and from which albums of outlets items came. */
export const usePlaced = (brand: string) =>
  useQuery({ queryKey: ["placed"], queryFn: () => ask(client.GET("/api/brands/{brand}/placements", at(brand))) });
/** usePlacedOf says how many of a selection are on pages now, and at addresses of their own. */
export const usePlacedOf = (brand: string, selection: Selection, on: boolean) =>
  useQuery({
    queryKey: ["placed", selection],
    enabled: on,
    queryFn: () => ask(client.POST("/api/brands/{brand}/placements", { ...at(brand), body: selection })),
  });
/** useDrafts lists the dispatches that nobody has sent yet. */
export const useDrafts = (brand: string, on = true) =>
  useQuery({ queryKey: ["drafts"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/dispatch-drafts", at(brand))) });
/** useRehearsals lists what is tried out as a post or an advertisement. */
export const useRehearsals = (brand: string) =>
  useQuery({ queryKey: ["rehearsals"], queryFn: () => ask(client.GET("/api/brands/{brand}/rehearsals", at(brand))) });
/** useRehearsal reads one with its variants and what was said of it. */
export const useRehearsal = (brand: string, id: number) =>
  useQuery({
    queryKey: ["rehearsals", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/rehearsals/{id}", { params: { path: { brand, id } } })),
  });
/** useScreens lists the screens in shops. */
export const useScreens = (brand: string, on = true) =>
  useQuery({ queryKey: ["screens"], enabled: on, queryFn: () => ask(client.GET("/api/brands/{brand}/screens", at(brand))) });
/** useParking tells how the things of a kind lie: their folders, and what does not lie open. */
export const useParking = (brand: string, kind: ThingKind) =>
  useQuery({
    queryKey: ["parking", kind],
    queryFn: () => ask(client.GET("/api/brands/{brand}/parking/{kind}", { params: { path: { brand, kind } } })),
  });
export type ThingKind = "rehearsal" | "draft" | "gallery" | "embed" | "screen";
/** useDrivePasswords lists one's own passwords for the drive. */
export const useDrivePasswords = (brand: string) =>
  useQuery({ queryKey: ["drive-passwords"], queryFn: () => ask(client.GET("/api/brands/{brand}/drive-passwords", at(brand))) });
/** useLogos lists the logos of the brand, the newest first. */
export const useLogos = (brand: string) =>
  useQuery({ queryKey: ["logos"], queryFn: () => ask(client.GET("/api/brands/{brand}/logos", at(brand))) });
/** useWebsites lists the websites that were seen to show something, the one seen last first. */
export const useWebsites = (brand: string, wanted: boolean) =>
  useQuery({ queryKey: ["websites"], enabled: wanted, queryFn: () => ask(client.GET("/api/brands/{brand}/websites", at(brand))) });
/** usePublicAddresses lists the items that anybody can open, before an id, the newest first. */
export const usePublicAddresses = (brand: string, before: number | undefined) =>
  useQuery({
    queryKey: ["public-addresses", before],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.GET("/api/brands/{brand}/public-addresses", { params: { path: { brand }, query: { before } } })),
  });
/** useAddressSeen lists the pages that were seen to show an item by its public address. */
export const useAddressSeen = (brand: string, id: number, wanted: boolean) =>
  useQuery({
    queryKey: ["address-seen", id],
    enabled: wanted,
    queryFn: () => ask(client.GET("/api/brands/{brand}/public-addresses/{id}/seen", { params: { path: { brand, id } } })),
  });
/** lastStepQuery is the last thing that a person did by themself and that can still be undone. */
export const lastStepQuery = (brand: string, person: number) => ({
  queryKey: ["trail", "last", person],
  queryFn: () =>
    ask(client.GET("/api/brands/{brand}/trail", { params: { path: { brand }, query: { person, undoable: true, limit: 1 } } })).then(
      (page) => page.entries[0] ?? null,
    ),
});
/** latestQuery is what a person did last, the newest first. */
export const latestQuery = (brand: string, person: number) => ({
  queryKey: ["trail", "latest", person],
  queryFn: () => ask(client.GET("/api/brands/{brand}/trail", { params: { path: { brand }, query: { person, limit: 50 } } })),
});
export const useLastStep = (brand: string, person: number) => useQuery(lastStepQuery(brand, person));
/** TrailFilter says which entries of the trail are meant. */
export interface TrailFilter {
  person?: number;
  step?: Schema["Step"];
  item?: number;
  folder?: number;
}
/** useTrail reads the trail, page after page into the past. */
export const useTrail = (brand: string, filter: TrailFilter) =>
  useInfiniteQuery({
    queryKey: ["trail", "pages", filter],
    initialPageParam: 0,
    placeholderData: keepPreviousData,
    queryFn: ({ pageParam }) =>
      ask(client.GET("/api/brands/{brand}/trail", { params: { path: { brand }, query: { ...filter, before: pageParam || undefined } } })),
    getNextPageParam: (page) => (page.more ? page.entries.at(-1)?.id : undefined),
  });

export const useAsset = (brand: string, id: number | undefined) =>
  useQuery({
    queryKey: ["asset", id],
    enabled: id !== undefined,
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}", { params: { path: { brand, id: id! } } })),
  });

export const useSelectionTags = (brand: string, selection: Selection) =>
  useQuery({
    queryKey: ["selection-tags", selection],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.POST("/api/brands/{brand}/tags/of-selection", { ...at(brand), body: selection })),
  });

export const useSharedWords = (brand: string, selection: Selection) =>
  useQuery({
    queryKey: ["shared-words", selection],
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.POST("/api/brands/{brand}/words/of-selection", { ...at(brand), body: selection })),
  });

export const useSize = (brand: string, selection: Selection, on: boolean) =>
  useQuery({
    queryKey: ["size", selection],
    enabled: on,
    queryFn: () => ask(client.POST("/api/brands/{brand}/selection", { ...at(brand), body: selection })),
  });
export const useFacets = (brand: string, query: SheetQuery, on: boolean) =>
  useQuery({
    queryKey: ["facets", query],
    enabled: on,
    placeholderData: keepPreviousData,
    queryFn: () => ask(client.POST("/api/brands/{brand}/facets", { ...at(brand), body: query })),
  });
/** useRuleOffers are the conditions that what is typed may mean, counted beside the rest of a query. What was offered before stays while
 * one types on. */
export const useRuleOffers = (brand: string, query: SheetQuery, typed: string) =>
  useQuery({ ...ruleOffersQuery(brand, query, typed), enabled: typed.length > 1, placeholderData: keepPreviousData });
/** ruleOffersQuery asks for them once. */
export const ruleOffersQuery = (brand: string, query: SheetQuery, typed: string) => ({
  queryKey: ["facets", "offers", query, typed],
  queryFn: () => ask(client.POST("/api/brands/{brand}/rules/read", { ...at(brand), body: { query, typed } })),
});
/** meansDays says whether an offer is days that were typed in full, and show something. */
export const meansDays = (offer: Schema["RuleOffer"] | undefined) =>
  offer?.sure && offer.items > 0 && offer.rest === "" && (offer.rule.field === "taken" || offer.rule.field === "added") ? offer : undefined;
/** useRuleCounts says how many items each of some rules finds in a place, and each in words. */
export const useRuleCounts = (brand: string, query: SheetQuery, rules: Schema["Rule"][]) =>
  useQuery({
    queryKey: ["facets", "rules", query, rules],
    enabled: rules.length > 0,
    placeholderData: (before, question) =>
      question?.queryKey.length === 4 && rulesOf(question.queryKey) === rules.length ? before : undefined,
    queryFn: () => ask(client.POST("/api/brands/{brand}/rules/count", { ...at(brand), body: { query, rules } })),
  });
const rulesOf = (key: readonly unknown[]) => (Array.isArray(key[3]) ? key[3].length : -1);
export const useDays = (brand: string, on: boolean) =>
  useQuery({
    queryKey: ["days"],
    enabled: on,
    queryFn: () => ask(client.POST("/api/brands/{brand}/days", { ...at(brand), body: { place: "everything" } })),
  });
export const useHistory = (brand: string, id: number | undefined) =>
  useQuery({
    queryKey: ["asset", id, "history"],
    enabled: id !== undefined,
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}/history", { params: { path: { brand, id: id! } } })),
  });
export const usePieces = (brand: string) =>
  useQuery({ queryKey: ["pieces"], queryFn: () => ask(client.GET("/api/brands/{brand}/pieces", at(brand))) });
export const useRights = (brand: string) =>
  useQuery({ queryKey: ["rights"], queryFn: () => ask(client.GET("/api/brands/{brand}/rights", at(brand))) });
export const useKnown = (brand: string) =>
  useQuery({ queryKey: ["rights", "known"], queryFn: () => ask(client.GET("/api/brands/{brand}/people/known", at(brand))) });
export const useBrandSettings = (brand: string) =>
  useQuery({ queryKey: ["brand-settings"], queryFn: () => ask(client.GET("/api/brands/{brand}/settings", at(brand))) });
export const useSessions = () => useQuery({ queryKey: ["sessions"], staleTime: 0, queryFn: () => ask(client.GET("/api/me/sessions")) });
export const useColours = (brand: string) =>
  useQuery({ queryKey: ["colours"], queryFn: () => ask(client.GET("/api/brands/{brand}/colours", at(brand))) });
export const useControls = (brand: string) =>
  useQuery({ queryKey: ["controls"], staleTime: Infinity, queryFn: () => ask(client.GET("/api/brands/{brand}/controls", at(brand))) });
export const useLooks = (brand: string) =>
  useQuery({ queryKey: ["looks"], queryFn: () => ask(client.GET("/api/brands/{brand}/looks", at(brand))) });
export const useRecipes = (brand: string, id: number) =>
  useQuery({
    queryKey: ["recipes", id],
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}/recipe", { params: { path: { brand, id } } })),
  });
export const useStages = (brand: string) =>
  useQuery({ queryKey: ["stages"], queryFn: () => ask(client.GET("/api/brands/{brand}/stages", at(brand))) });
export const useSees = (brand: string, id: number | undefined) =>
  useQuery({
    queryKey: ["rights", "sees", id],
    enabled: id !== undefined,
    queryFn: () => ask(client.GET("/api/brands/{brand}/people/{id}/sees", { params: { path: { brand, id: id! } } })),
  });
export const useOutletAlbums = (brand: string, outlet: number | undefined) =>
  useQuery({
    queryKey: ["outlet-albums", outlet],
    enabled: outlet !== undefined,
    retry: false,
    queryFn: () => ask(client.GET("/api/brands/{brand}/outlets/{id}/albums", { params: { path: { brand, id: outlet! } } })),
  });
export const useOutletMedia = (brand: string, outlet: number | undefined, album: string | undefined) =>
  useQuery({
    queryKey: ["outlet-media", outlet, album],
    enabled: album !== undefined,
    retry: false,
    staleTime: 0,
    queryFn: () =>
      ask(client.GET("/api/brands/{brand}/outlets/{id}/albums/{album}/media", { params: { path: { brand, id: outlet!, album: album! } } })),
  });
export const useServerListing = (brand: string, folder: number | undefined, path: string) =>
  useQuery({
    queryKey: ["server-listing", folder, path],
    enabled: folder !== undefined,
    staleTime: 0,
    queryFn: () =>
      ask(client.GET("/api/brands/{brand}/server-folders/{id}/listing", { params: { path: { brand, id: folder! }, query: { path } } })),
  });
/** useMetadata is everything that the file of an item says. */
export const useMetadata = (brand: string, id: number, on: boolean) =>
  useQuery({
    queryKey: ["asset", id, "metadata"],
    enabled: on,
    queryFn: () => ask(client.GET("/api/brands/{brand}/assets/{id}/metadata", { params: { path: { brand, id } } })),
  });
