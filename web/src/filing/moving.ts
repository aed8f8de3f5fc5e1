import { create } from "zustand";
import { act, ask, client, messageOf, type Schema, type Selection } from "~/api/client";
import { prefer, preferences } from "~/api/preferences";
import { hideFromSheets, hideUntilDone, type Leaving } from "~/api/sheets";
import { warn } from "~/kit/notes";
import { actingOn, cutNothing, inOrder, useChosen } from "~/sheet/selection";

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
      const audience = await ask(
        client.POST("/api/brands/{brand}/move/audience", { params: { path: { brand } }, body: { selection, folder } }),
      );
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
  cutNothing();
  await take(
    brand,
    selection,
    (q) => (q.place === "unfiled" && folder !== undefined) || (q.place === "folder" && !q.below && q.id !== folder),
    () => client.POST("/api/brands/{brand}/move", { params: { path: { brand } }, body: { selection, folder } }),
  );
}

/** toBin puts a selection in the bin. */
export const toBin = (brand: string, selection: Selection) =>
  take(
    brand,
    selection,
    (q) => q.place !== "bin",
    () => client.POST("/api/brands/{brand}/bin", { params: { path: { brand } }, body: selection }),
  );

/** fromBin puts a selection back. */
export const fromBin = (brand: string, selection: Selection) =>
  take(
    brand,
    selection,
    (q) => q.place === "bin",
    () => client.POST("/api/brands/{brand}/bin/restore", { params: { path: { brand } }, body: selection }),
  );

/** take does what takes items out of some sheets: they go out of sight at once, and stay so while the server is at it. When
 * it refuses, all is as it was. */
async function take(brand: string, selection: Selection, from: Leaving["from"], send: () => Parameters<typeof act>[1]) {
  const leaving = { ids: new Set(selection.ids ?? inOrder()), whole: selection.everything && useChosen.getState().query, from };
  actingOn(leaving.ids);
  const show = hideFromSheets(leaving);
  const done = await act(brand, send());
  if (!done) show();
  else if (done.goesOn && done.trail) hideUntilDone(done.trail, leaving);
}
