// What each folder of src may import, besides itself. Steps of the work import what all share, never each other; what all share imports
// no step. The folders are those that are there: one that stands in no list, or that is listed and not there, is an error.
import { readdirSync } from "node:fs";

const shared = ["api", "kit", "sheet", "satchel"];
const steps = ["bringin", "filing", "describing", "choosing", "preparing", "gathering", "sendout", "upkeep", "people"];

/** @type {Record<string, string[]>} */
const may = {
  kit: [],
  api: ["kit"],
  sheet: ["api", "kit"],
  satchel: ["api", "kit", "sheet"],
  ...Object.fromEntries(steps.map((step) => [step, shared])),
  sendout: [...shared, "embed"], // which it shows as a website will
  path: shared,
  workspace: [...shared, ...steps, "path"],
  gallery: ["api", "kit"],
  screen: ["api", "kit"],
  embed: ["api"],
};

export const foldersThere = () =>
  readdirSync(new URL("../src", import.meta.url), { withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .map((entry) => entry.name);

// Components name an act and know nothing of addresses: only the modules with acts, and api/, talk to the server.
const server = {
  name: "~/api/client",
  importNames: ["client"],
  message: "Put the call into the acts.ts of the step, and name that act here.",
};
const speakers = ["acts.ts", "moving.ts"];

/** walls are the lint's rules about imports for some folders. */
export function walls(folders) {
  const stray = [...folders.filter((f) => !(f in may)), ...Object.keys(may).filter((f) => !folders.includes(f))];
  if (stray.length > 0) throw new Error(`build/walls.js has to say what ${stray.join(", ")} may import, and of nothing that is not there.`);
  return folders.flatMap((folder) => {
    const forbidden = folders.filter((f) => f !== folder && !may[folder].includes(f));
    const patterns = [
      {
        group: forbidden.flatMap((f) => [`~/${f}/*`, `**/../${f}/*`]),
        message: `${folder}/ may import only ${may[folder].join(", ") || "itself"}.`,
      },
    ];
    const rule = (more) => ({ "no-restricted-imports": ["error", { patterns: forbidden.length > 0 ? patterns : [], ...more }] });
    return [
      { files: [`src/${folder}/**`], rules: rule(folder === "api" ? {} : { paths: [server] }) },
      { files: speakers.map((name) => `src/${folder}/${name}`), rules: rule({}) },
    ];
  });
}
