import { cancelIntake, loadIntake, undoIntake } from "./acts";
import { forget } from "./queue";

const open = ["waiting", "arrived"];
const pause = (milliseconds: number) => new Promise((go) => setTimeout(go, milliseconds));

/** takeBackIntake leaves nothing of an intake that was for something which is not done after all: what is on its way does not come, and
 * what came goes into the bin, once it is known what came. */
export async function takeBackIntake(brand: string, id: number) {
  await cancelIntake(brand, id).catch(() => undefined); // there may be nothing left to cancel
  forget(brand, id);
  for (let tries = 0; tries < 240; tries++, await pause(500)) {
    const now = await loadIntake(brand, id).catch(() => undefined); // asked again
    if (!now || now.files.some((f) => open.includes(f.state))) continue;
    if (now.added > 0 && now.trail !== undefined) await undoIntake(brand, now.trail);
    return;
  }
}
