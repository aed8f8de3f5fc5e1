import { ask, client } from "~/api/client";
import { cancelIntake } from "./acts";
import { forget } from "./queue";

const at = (brand: string, id: number) => ({ params: { path: { brand, id } } });
const open = ["waiting", "arrived"];
const pause = (milliseconds: number) => new Promise((go) => setTimeout(go, milliseconds));

/** takeBackIntake leaves nothing of an intake that was for something which is not done after all: what is on its way does not come, and
 * what came goes into the bin, once it is known what came. */
export async function takeBackIntake(brand: string, id: number) {
  await cancelIntake(brand, id).catch(() => undefined); // there may be nothing left to cancel
  forget(brand, id);
  for (let tries = 0; tries < 240; tries++, await pause(500)) {
    const now = await ask(client.GET("/api/brands/{brand}/intakes/{id}", at(brand, id))).catch(() => undefined); // asked again
    if (!now || now.files.some((f) => open.includes(f.state))) continue;
    if (now.added > 0 && now.trail !== undefined) await ask(client.POST("/api/brands/{brand}/trail/{id}/undo", at(brand, now.trail)));
    return;
  }
}
