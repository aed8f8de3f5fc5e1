import { create } from "zustand";
import { act, ask, client, messageOf, type Schema, type Selection } from "~/api/client";
import { prefer, preferences } from "~/api/preferences";
import { queries } from "~/api/queries";
import { hideFromSheets } from "~/api/sheets";
import { warn } from "~/kit/notes";
import { cutNothing, inOrder } from "~/sheet/selection";

interface Widening {
  brand: string;
  selection: Selection;
  folder: number;
  audience: Schema["Audience"];
}

/** useWidening is a move that waits for a word, since it would let more people see the items. */
export const useWidening = create<{ asked: Widening | undefined }>(() => ({ asked: undefined }));

/** How many folders that something was moved to are remembered. */
const targets = 8;

/** moveTo files a selection in a folder; undefined is Unfiled. When more people would see the items then, it asks first,
 * once for each such widening. */
export async function moveTo(brand: string, selection: Selection, folder: number | undefined) {
  if (folder !== undefined) {
    try {
      const audience = await ask(client.POST("/api/brands/{brand}/move/audience", { params: { path: { brand } }, body: { selection, folder } }));
      if (audience.gains.length > 0 && !audience.told) {
        useWidening.setState({ asked: { brand, selection, folder, audience } });
        return;
      }
    } catch (error) {
      warn(messageOf(error));
      return;
    }
    prefer(brand, { targets: [folder, ...(preferences().targets ?? []).filter((f) => f !== folder)].slice(0, targets) });
  }
  await move(brand, selection, folder);
}

/** moveAnyway moves after it was said who will see the items. */
export async function moveAnyway({ brand, selection, folder }: Widening) {
  useWidening.setState({ asked: undefined });
  try {
    await ask(client.PUT("/api/brands/{brand}/move/audience", { params: { path: { brand } }, body: { selection, folder } }));
  } catch (error) {
    warn(messageOf(error));
    return;
  }
  await move(brand, selection, folder);
}

async function move(brand: string, selection: Selection, folder: number | undefined) {
  hideFromSheets(new Set(selection.ids ?? inOrder()), (q) => (q.place === "unfiled" && folder !== undefined) || (q.place === "folder" && !q.below && q.id !== folder));
  cutNothing();
  const done = await act(brand, client.POST("/api/brands/{brand}/move", { params: { path: { brand } }, body: { selection, folder } }));
  if (!done) void queries.invalidateQueries({ queryKey: ["sheet"] }); // as it was
}

/** toBin puts a selection in the bin, and takes it out of sight at once. */
export async function toBin(brand: string, selection: Selection) {
  hideFromSheets(new Set(selection.ids ?? inOrder()), (q) => q.place !== "bin");
  if (!(await act(brand, client.POST("/api/brands/{brand}/bin", { params: { path: { brand } }, body: selection })))) void queries.invalidateQueries({ queryKey: ["sheet"] });
}

/** fromBin puts a selection back. */
export async function fromBin(brand: string, selection: Selection) {
  hideFromSheets(new Set(selection.ids ?? inOrder()), (q) => q.place === "bin");
  if (!(await act(brand, client.POST("/api/brands/{brand}/bin/restore", { params: { path: { brand } }, body: selection })))) void queries.invalidateQueries({ queryKey: ["sheet"] });
}
