import { act, ask, client, messageOf, type Schema, type Selection } from "~/api/client";
import { queries, type ThingKind } from "~/api/queries";
import { tell, warn } from "~/kit/notes";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** previewDownload asks which files a ZIP would have. */
export const previewDownload = (brand: string, wanted: Schema["NewDownload"]) =>
  ask(client.POST("/api/brands/{brand}/downloads/preview", { ...at(brand), body: wanted }));

/** makeAgain makes what failed of a ZIP; it throws what is against it. */
export const makeAgain = (brand: string, id: number) => ask(client.POST("/api/brands/{brand}/downloads/{id}/retry", on(brand, id)));

/** stopMaking ends a download as far as it is; it throws what is against it. */
export const stopMaking = (brand: string, id: number) => ask(client.POST("/api/brands/{brand}/downloads/{id}/stop", on(brand, id)));

export const addSize = (brand: string, size: Schema["OutputSizeValues"]) =>
  act(brand, client.POST("/api/brands/{brand}/output-sizes", { ...at(brand), body: size }));

/** changeSize throws what is against it. */
export async function changeSize(brand: string, id: number, size: Schema["OutputSizeValues"]) {
  await ask(client.PUT("/api/brands/{brand}/output-sizes/{id}", { ...on(brand, id), body: size }));
  await queries.invalidateQueries({ queryKey: ["sizes"] });
}

export const duplicateSize = (brand: string, id: number) =>
  act(brand, client.POST("/api/brands/{brand}/output-sizes/{id}/duplicate", on(brand, id)));

export const orderSizes = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/output-sizes/order", { ...at(brand), body: { ids } }));

/** retireSize does not offer a size any more; with clear what was made by it is removed. */
export const retireSize = (brand: string, id: number, clear: boolean) =>
  act(brand, client.DELETE("/api/brands/{brand}/output-sizes/{id}", { params: { path: { brand, id }, query: { clear } } }));

/** refreshPages asks the connected outlets again what their pages are. */
export async function refreshPages(brand: string) {
  try {
    await ask(client.POST("/api/brands/{brand}/pages", at(brand)));
    await queries.invalidateQueries({ queryKey: ["pages"] });
  } catch (error) {
    warn(messageOf(error));
  }
}

/** connectOutlet goes to a service, where one lets the server into an account; it leads back to the page of outlets. */
export const connectOutlet = async (brand: string, kind: string) => {
  try {
    const to = await ask(client.POST("/api/brands/{brand}/outlet-services", { ...at(brand), body: { kind } }));
    window.location.assign(to.address);
  } catch (error) {
    warn(messageOf(error));
  }
};

/** connectByToken connects an account by a token that was given by hand; it returns what is against it. */
export const connectByToken = async (brand: string, outlet: Schema["NewOutlet"]) => {
  try {
    tell((await ask(client.POST("/api/brands/{brand}/outlets", { ...at(brand), body: outlet }))).said);
    await queries.invalidateQueries({ queryKey: ["outlets"] });
  } catch (error) {
    return messageOf(error);
  }
};

export const disconnectOutlet = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/outlets/{id}", on(brand, id)));

/** copyOutlet has what is one's own at an outlet copied here as it appears, or ends that. */
export const copyOutlet = (brand: string, id: number, on: boolean) =>
  act(brand, client.PUT("/api/brands/{brand}/outlets/{id}/copy", { params: { path: { brand, id } }, body: { on } }));

/** sendDispatch sends a dispatch, or plans it; it throws what is against it. */
export const sendDispatch = async (brand: string, wanted: Schema["NewDispatch"]) => {
  const done = await ask(client.POST("/api/brands/{brand}/dispatches", { ...at(brand), body: wanted }));
  tell(done.said);
};

/** changeDispatch says "go", holds, lets carry on, cancels or takes back a dispatch as a whole. */
export const changeDispatch = async (brand: string, id: number, what: "go" | "hold" | "carry_on" | "cancel" | "withdraw") => {
  try {
    tell((await ask(client.POST("/api/brands/{brand}/dispatches/{id}", { ...on(brand, id), body: { what } }))).said);
  } catch (error) {
    warn(messageOf(error));
  }
};

/** movePost gives a post another moment, as clocks of its page show it; it says whether it did. */
export const movePost = async (brand: string, id: number, wall: string) => {
  try {
    tell((await ask(client.PUT("/api/brands/{brand}/dispatch-posts/{id}/moment", { ...on(brand, id), body: { wall } }))).said);
    return true;
  } catch (error) {
    warn(messageOf(error));
    return false;
  }
};

/** setRhythm says when a page is posted to. */
export const setRhythm = (brand: string, page: number, beats: Schema["Beat"][]) =>
  act(brand, client.PUT("/api/brands/{brand}/pages/{id}/rhythm", { ...on(brand, page), body: { beats } }));

export const addPageFeed = (brand: string, feed: Schema["NewPageFeed"]) =>
  act(brand, client.POST("/api/brands/{brand}/page-feeds", { ...at(brand), body: feed }));

export const changePageFeed = (brand: string, id: number, what: "go" | "stop" | "remove") =>
  act(brand, client.POST("/api/brands/{brand}/page-feeds/{id}", { ...on(brand, id), body: { what } }));

/** makeCalendarFeed gives one's own address of the calendar; an earlier one ends. */
export const makeCalendarFeed = async (brand: string) => (await ask(client.POST("/api/brands/{brand}/calendar-feed", at(brand)))).address;

export const endCalendarFeed = (brand: string) => act(brand, client.DELETE("/api/brands/{brand}/calendar-feed", at(brand)));

/** albumOf makes an album of what a post shows, in its order and with its words. */
export const albumOf = (brand: string, p: Schema["DispatchPost"]) =>
  act(
    brand,
    client.POST("/api/brands/{brand}/albums", {
      ...at(brand),
      body: { name: `${p.page}, ${p.wall.slice(0, 10)}`, selection: { ids: p.items } },
    }),
  );

/** changePost cancels, retries, decides about, takes back or looks at a post. */
export const changePost = async (brand: string, id: number, what: "cancel" | "again" | "there" | "not_there" | "withdraw" | "look") => {
  try {
    const done = await ask(client.POST("/api/brands/{brand}/dispatch-posts/{id}", { ...on(brand, id), body: { what } }));
    tell(done.said);
  } catch (error) {
    warn(messageOf(error));
  }
};

/** keepDraft keeps a dispatch to go on with it later, in place of the draft that it was; it throws what is against it. */
export async function keepDraft(brand: string, kept: Schema["Draft"] | undefined, dispatch: Schema["NewDispatch"], to: Schema["Page"][]) {
  const name = kept?.name ?? (to.length > 0 ? `To ${to.map((p) => p.name).join(", ")}`.slice(0, 200) : "");
  const body = { name, dispatch };
  const done = await ask(
    kept
      ? client.PUT("/api/brands/{brand}/dispatch-drafts/{id}", { ...on(brand, kept.id), body })
      : client.POST("/api/brands/{brand}/dispatch-drafts", { ...at(brand), body }),
  );
  tell(`${done.said}, under Dispatches`);
}

export const removeDraft = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/dispatch-drafts/{id}", on(brand, id)));

/** rehearse begins to try out items as a post, and gives its id; it throws what is against it. */
export const rehearse = async (brand: string, name: string, selection: Selection) =>
  (await ask(client.POST("/api/brands/{brand}/rehearsals", { ...at(brand), body: { name, selection } }))).id;

/** changeRehearsal and changeVariant throw what is against them. */
export const changeRehearsal = (brand: string, id: number, change: { name?: string; places?: Schema["PlaceKind"][] }) =>
  ask(client.PATCH("/api/brands/{brand}/rehearsals/{id}", { ...on(brand, id), body: change }));

export const changeVariant = (brand: string, id: number, variant: number, change: Schema["VariantChange"]) =>
  ask(client.PATCH("/api/brands/{brand}/rehearsals/{id}/variants/{variant}", { params: { path: { brand, id, variant } }, body: change }));

export const removeRehearsal = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/rehearsals/{id}", on(brand, id)));

export const addVariant = (brand: string, id: number, like?: number) =>
  act(brand, client.POST("/api/brands/{brand}/rehearsals/{id}/variants", { ...on(brand, id), body: like ? { like } : {} }));

export const removeVariant = (brand: string, id: number, variant: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/rehearsals/{id}/variants/{variant}", { params: { path: { brand, id, variant } } }));

/** remarkOnRehearsal throws what is against it. */
export const remarkOnRehearsal = (brand: string, id: number, words: string, variant: number | undefined) =>
  ask(client.POST("/api/brands/{brand}/rehearsals/{id}/remarks", { ...on(brand, id), body: { words, ...(variant ? { variant } : {}) } }));

export const removeRehearsalRemark = (brand: string, id: number, remark: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/rehearsals/{id}/remarks/{remark}", { params: { path: { brand, id, remark } } }));

/** pairScreen throws what is against it. */
export async function pairScreen(brand: string, code: string, name: string, zone: string) {
  const done = await ask(client.POST("/api/brands/{brand}/screens", { ...at(brand), body: { code, name, zone } }));
  tell(done.said);
}

/** setScreen throws what is against it; changeScreen tells it. */
export const setScreen = (brand: string, id: number, change: Schema["ScreenChange"]) =>
  ask(client.PATCH("/api/brands/{brand}/screens/{id}", { ...on(brand, id), body: change }));

export const changeScreen = (brand: string, id: number, change: Schema["ScreenChange"]) =>
  act(brand, client.PATCH("/api/brands/{brand}/screens/{id}", { ...on(brand, id), body: change }));

export const removeScreen = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/screens/{id}", on(brand, id)));

const kindOf = (brand: string, kind: ThingKind) => ({ params: { path: { brand, kind } } });

/** placeThings puts things into a folder of their kind (0 is none), parks them, or brings them back. */
export const placeThings = (brand: string, kind: ThingKind, ids: number[], to: { folder?: number; parked?: boolean }) =>
  act(brand, client.POST("/api/brands/{brand}/parking/{kind}", { ...kindOf(brand, kind), body: { ids, ...to } }));

/** makeThingFolder throws what is against it. */
export const makeThingFolder = (brand: string, kind: ThingKind, name: string) =>
  ask(client.POST("/api/brands/{brand}/parking/{kind}/folders", { ...kindOf(brand, kind), body: { name } }));

export const changeThingFolder = (brand: string, kind: ThingKind, id: number, change: { name?: string; parked?: boolean }) =>
  act(brand, client.PATCH("/api/brands/{brand}/parking/{kind}/folders/{id}", { params: { path: { brand, kind, id } }, body: change }));

export const removeThingFolder = (brand: string, kind: ThingKind, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/parking/{kind}/folders/{id}", { params: { path: { brand, kind, id } } }));

export const setDriveSends = (brand: string, page: number, sends: boolean) =>
  act(brand, client.PUT("/api/brands/{brand}/pages/{id}/drive", { ...on(brand, page), body: { sends } }));

/** takeBackEverywhere takes every post back that shows some of these items; it throws what is against it. */
export const takeBackEverywhere = async (brand: string, selection: Selection) => {
  const done = await ask(client.POST("/api/brands/{brand}/placements/withdraw", { ...at(brand), body: selection }));
  tell(done.said);
};

/** setLogos makes items logos of the brand, or ends that. */
export const setLogos = (brand: string, selection: Selection, logo: boolean) =>
  act(brand, client.POST("/api/brands/{brand}/logos", { ...at(brand), body: { selection, logo } }));

/** clearMade removes what was made by a size, which stays; 0 is what was made by none. */
export const clearMade = async (brand: string, id: number) => {
  await act(brand, client.POST("/api/brands/{brand}/output-sizes/clear", { ...at(brand), body: { id } }));
  await queries.invalidateQueries({ queryKey: ["size-costs"] });
};

/** defaultSizes puts the sizes that a brand begins with back. */
export const defaultSizes = (brand: string) => act(brand, client.POST("/api/brands/{brand}/output-sizes/defaults", at(brand)));

/** tryOut makes of a picture what a size would make of it, and keeps nothing; it throws what is against it. */
export const tryOut = (brand: string, trial: Schema["SizeTrial"]) =>
  ask(client.POST("/api/brands/{brand}/output-sizes/try", { ...at(brand), body: trial }));

/** newGallery throws what is against it. */
export const newGallery = (brand: string, gallery: Schema["NewGallery"]) =>
  ask(client.POST("/api/brands/{brand}/galleries", { ...at(brand), body: gallery }));

export const changeGallery = (brand: string, id: number, change: Partial<Schema["GalleryChange"]>) =>
  act(brand, client.PATCH("/api/brands/{brand}/galleries/{id}", { ...on(brand, id), body: change }));

/** setGallery writes one field of a gallery, which says by itself that it is saved; it throws what is against it. */
export const setGallery = (brand: string, id: number, change: Partial<Schema["GalleryChange"]>) =>
  ask(client.PATCH("/api/brands/{brand}/galleries/{id}", { ...on(brand, id), body: change }));

export const removeGallery = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/galleries/{id}", on(brand, id)));

export const mergeGalleries = (brand: string, id: number, from: number) =>
  act(brand, client.POST("/api/brands/{brand}/galleries/{id}/merge", { ...on(brand, id), body: { from } }));

/** galleryOfSelection keeps a selection as an album and makes a gallery of that; it throws what is against it. */
export async function galleryOfSelection(brand: string, kind: Schema["GalleryKind"], title: string, selection: Schema["Selection"]) {
  const album = await ask(client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name: title, selection } }));
  return newGallery(brand, { kind, title, chapters: [{ album: album.id, below: false }] });
}

/** addSatchel keeps what is carried as an album, in its order, and shows it as one more chapter; it throws what is against it. */
export async function addSatchel(brand: string, g: Schema["Gallery"], ids: number[]) {
  const now = new Date().toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", second: "2-digit" });
  const name = `From the satchel, ${now}`;
  const album = await ask(client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name, selection: { ids } } }));
  const chapters = g.chapters.map(({ id, title, words, folder, album: shown, below }) => ({
    id,
    title,
    words,
    folder,
    album: shown,
    below,
  }));
  return setGallery(brand, g.id, { chapters: [...chapters, { album: album.id, below: false }] });
}

export const setLists = async (brand: string, id: number, lists: Schema["GuestList"][]) => {
  await ask(client.PUT("/api/brands/{brand}/galleries/{id}/lists", { ...on(brand, id), body: { lists } }));
  await queries.invalidateQueries({ queryKey: ["gallery-inside"] });
};

/** answerGuest says whether it was said; what is against it is told. */
export async function answerGuest(brand: string, id: number, answers: number, words: string) {
  try {
    await ask(client.POST("/api/brands/{brand}/galleries/{id}/remarks", { ...on(brand, id), body: { answers, words } }));
    return true;
  } catch (error) {
    warn(messageOf(error));
    return false;
  }
}

export const removeRemark = (brand: string, id: number, remark: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/galleries/{id}/remarks/{remark}", { params: { path: { brand, id, remark } } }));

/** planLetters throws what is against it. */
export const planLetters = (brand: string, id: number, mailing: Schema["Mailing"]) =>
  ask(client.POST("/api/brands/{brand}/galleries/{id}/letters/plan", { ...on(brand, id), body: mailing }));

/** sendLetters throws what is against it. */
export const sendLetters = (brand: string, id: number, mailing: Schema["Mailing"]) =>
  ask(client.POST("/api/brands/{brand}/galleries/{id}/letters", { ...on(brand, id), body: mailing }));

export const acceptContributions = (brand: string, id: number, ids: number[]) =>
  tellOf(ask(client.POST("/api/brands/{brand}/galleries/{id}/contributions/accept", { ...on(brand, id), body: { ids } })));

/** binThese puts items in the bin. */
export const binThese = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/bin", { ...at(brand), body: { ids } }));

const tellOf = (answer: Promise<unknown>) => answer.catch((error: unknown) => warn(messageOf(error)));

export const letterAgain = (brand: string, id: number) => tellOf(ask(client.POST("/api/brands/{brand}/letters/{id}/again", on(brand, id))));

export const withdrawGuest = (brand: string, id: number, guest: number) =>
  tellOf(ask(client.POST("/api/brands/{brand}/galleries/{id}/guests/{guest}/withdraw", { params: { path: { brand, id, guest } } })));

/** albumOfList makes an album of what guests chose, in the order in which they chose it. */
export const albumOfList = (brand: string, name: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name: name.slice(0, 200), selection: { ids } } }));

export const starThese = (brand: string, ids: number[], stars: number) =>
  act(brand, client.POST("/api/brands/{brand}/stars", { ...at(brand), body: { selection: { ids }, stars } }));

export const keepThese = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/keepers", { ...at(brand), body: { selection: { ids }, keep: true } }));

/** newEmbed throws what is against it. */
export const newEmbed = (brand: string, sources: Schema["EmbedSource"][]) =>
  ask(client.POST("/api/brands/{brand}/embeds", { ...at(brand), body: { sources } }));

export const changeEmbed = (brand: string, id: number, change: Schema["EmbedChange"]) =>
  act(brand, client.PATCH("/api/brands/{brand}/embeds/{id}", { ...on(brand, id), body: change }));

/** setEmbed writes something about an embed, which says by itself that it is saved; it throws what is against it. */
export async function setEmbed(brand: string, id: number, change: Schema["EmbedChange"]) {
  await ask(client.PATCH("/api/brands/{brand}/embeds/{id}", { ...on(brand, id), body: change }));
  await Promise.all([queries.invalidateQueries({ queryKey: ["embeds"] }), queries.invalidateQueries({ queryKey: ["embedded", id] })]);
}

export const removeEmbed = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/embeds/{id}", on(brand, id)));

/** openPicker tells for which website one picks; it throws what is against it. */
export const openPicker = (code: string) => ask(client.GET("/api/sites/{code}", { params: { path: { code } } }));

/** makePublic gives items addresses that anybody can open; it throws what is against it. */
export const makePublic = (brand: string, selection: Schema["Selection"]) =>
  ask(client.POST("/api/brands/{brand}/public-addresses", { ...at(brand), body: selection }));

/** endPublic switches public addresses off. */
export const endPublic = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/public-addresses/end", { ...at(brand), body: { ids } }));

/** addSite throws what is against it. */
export const addSite = (brand: string, site: Schema["NewSite"]) =>
  ask(client.POST("/api/brands/{brand}/sites", { ...at(brand), body: site }));

export const removeSite = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/sites/{id}", on(brand, id)));
