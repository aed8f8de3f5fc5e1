import { act, ask, client, sendFile, told, type Schema, type Selection, type SheetQuery } from "~/api/client";
import { queries } from "~/api/queries";
import { withCondition } from "~/sheet/filters";
import type { FieldName } from "./fields";

const at = (brand: string) => ({ params: { path: { brand } } });

export const addTags = (brand: string, selection: Selection, tags: string) =>
  act(brand, client.POST("/api/brands/{brand}/tags", { ...at(brand), body: { selection, add: tags } }));

export const takeTagOff = (brand: string, selection: Selection, tag: number) =>
  act(brand, client.POST("/api/brands/{brand}/tags", { ...at(brand), body: { selection, remove: [tag] } }));

/** describe writes one text of an item; revision is the one that the person saw. It throws what is against it. */
export async function describe(brand: string, id: number, revision: number, name: FieldName, text: string) {
  const shown = { queryKey: ["asset", id] };
  try {
    await ask(client.PATCH("/api/brands/{brand}/assets/{id}", { params: { path: { brand, id } }, body: { revision, [name]: text } }));
  } catch (error) {
    void queries.invalidateQueries(shown); // what is shown may be old: somebody else may have written
    throw error;
  }
  await queries.invalidateQueries(shown);
}

export type How = Schema["Writing"]["how"];

/** writeWords writes into one field of a selection. It throws what is against it. */
export const writeWords = (brand: string, selection: Selection, field: FieldName, how: How, text: string) =>
  ask(client.POST("/api/brands/{brand}/words", { ...at(brand), body: { selection, field, how, text } }));

export const textsOf = (brand: string, selection: Selection, field: FieldName) =>
  ask(client.POST("/api/brands/{brand}/words/texts", { ...at(brand), body: { selection, field } }));

export type Pattern = Omit<Schema["TitlePattern"], "selection">;

export const previewTitles = (brand: string, selection: Selection, pattern: Pattern) =>
  ask(client.POST("/api/brands/{brand}/words/titles/preview", { ...at(brand), body: { selection, ...pattern } }));

export const giveTitles = (brand: string, selection: Selection, pattern: Pattern) =>
  act(brand, client.POST("/api/brands/{brand}/words/titles", { ...at(brand), body: { selection, ...pattern } }));

/** takeOver carries fields of one item, and its tags, to a selection. */
export const takeOver = (brand: string, selection: Selection, asset: number, fields: FieldName[], tags: boolean) =>
  act(brand, client.POST("/api/brands/{brand}/words/take-over", { ...at(brand), body: { selection, asset, fields, tags } }));

/** lackingIn lists the items of a sheet, in its order, that lack what the brand asks for; the first ten thousand of them. */
export const lackingIn = async (brand: string, query: SheetQuery, needs: Schema["Need"][]) =>
  needs.length === 0
    ? []
    : (
        await ask(
          client.POST("/api/brands/{brand}/sheet", {
            params: { path: { brand }, query: { from: 0, most: 10_000 } },
            body: { ...query, filter: withCondition(query.filter, "lacks", { names: needs }) },
          }),
        )
      ).ids;

/** setClock moves the moments of capture of a selection, puts them into a zone, or brings back what the files say. */
export const setClock = (brand: string, selection: Selection, change: Omit<Schema["ClockChange"], "selection">) =>
  act(brand, client.POST("/api/brands/{brand}/clock", { ...at(brand), body: { selection, ...change } }));

/** renameTag gives a tag another name everywhere. It throws what is against it: also that another tag has the name already,
 * unless they are to be merged. */
export const renameTag = async (brand: string, id: number, name: string, merge = false) =>
  told(brand, await ask(client.PATCH("/api/brands/{brand}/tags/{id}", { params: { path: { brand, id } }, body: { name, merge } })));

export const mergeTags = (brand: string, into: number, from: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/tags/merge", { ...at(brand), body: { into, from } }));

export const removeTags = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/tags/remove", { ...at(brand), body: { ids } }));

/** groupTags puts tags into the group of that name, or into none. */
export const groupTags = (brand: string, ids: number[], group: string) =>
  act(brand, client.POST("/api/brands/{brand}/tags/group", { ...at(brand), body: { ids, group: group || undefined } }));

export const tidyTags = (brand: string) => act(brand, client.POST("/api/brands/{brand}/tags/tidy", at(brand)));

export const spellTag = async (brand: string, id: number, name: string) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/tags/{id}/spellings", { params: { path: { brand, id } }, body: { name } })));

export const unspellTag = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/tag-spellings/{id}", { params: { path: { brand, id } } }));

export const makeGroup = async (brand: string, name: string) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/tag-groups", { ...at(brand), body: { name } })));

export const changeGroup = async (brand: string, id: number, name: string, closed: boolean) =>
  told(brand, await ask(client.PUT("/api/brands/{brand}/tag-groups/{id}", { params: { path: { brand, id } }, body: { name, closed } })));

export const removeGroup = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/tag-groups/{id}", { params: { path: { brand, id } } }));

/** writeAboutPerson writes down what is known of somebody who is shown. It throws what is against it. */
export const writeAboutPerson = async (brand: string, id: number, about: Schema["AboutPerson"]) =>
  told(brand, await ask(client.PATCH("/api/brands/{brand}/people-shown/{id}", { params: { path: { brand, id } }, body: about })));

/** takeTable gives the words of a selection as a file to be edited in a spreadsheet, or as JSON. */
export async function takeTable(brand: string, selection: Selection, form: Schema["TableWanted"]["form"]) {
  const bytes = (await ask(
    client.POST("/api/brands/{brand}/words/table", { ...at(brand), body: { selection, form }, parseAs: "blob" }),
  )) as unknown as Blob;
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([bytes], { type: form === "csv" ? "text/csv" : "application/json" }));
  link.download = `words-${brand}-${new Date().toLocaleDateString("sv-SE")}.${form}`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** bringBack sends a table that was edited, to be compared. It throws what is against it. */
export const bringBack = (brand: string, file: File): Promise<Schema["WordsTable"]> =>
  ask(sendFile<Schema["WordsTable"]>(`/api/brands/${brand}/tables`, file));

export const table = (brand: string, id: number) => ask(client.GET("/api/brands/{brand}/tables/{id}", { params: { path: { brand, id } } }));

/** tables lists the table that was brought back last and not applied, if there is one. */
export const tables = (brand: string) => ask(client.GET("/api/brands/{brand}/tables", at(brand)));

export const tableRows = (brand: string, id: number, state: Schema["TableRowState"], after: number) =>
  ask(client.GET("/api/brands/{brand}/tables/{id}/rows", { params: { path: { brand, id }, query: { state, after } } }));

export const applyTable = (brand: string, id: number) =>
  act(brand, client.POST("/api/brands/{brand}/tables/{id}", { params: { path: { brand, id } } }));
