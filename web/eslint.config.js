import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// Steps of the work import what all share, never each other; what all share imports no step.
const steps = ["bringin", "filing", "gathering", "describing", "choosing", "sendout", "people", "upkeep"];
const shared = { api: ["api"], kit: ["kit"], sheet: ["api", "kit", "sheet"], satchel: ["api", "kit", "sheet", "satchel"] };
const everywhere = ["path", "workspace", "gallery", ...steps];

// Components name an act and know nothing of addresses: only the modules with acts, and api/, talk to the server.
const server = {
  name: "~/api/client",
  importNames: ["client"],
  message: "Put the call into the acts.ts of the step, and name that act here.",
};
const speakers = ["acts.ts", "moving.ts"];

function allow(folder, allowed) {
  const forbidden = [...Object.keys(shared), ...everywhere].filter((f) => f !== folder && !allowed.includes(f));
  const patterns = [
    { group: forbidden.flatMap((f) => [`~/${f}/*`, `**/../${f}/*`]), message: `${folder}/ may import only ${allowed.join(", ")}.` },
  ];
  const rule = (more) => ({ "no-restricted-imports": ["error", { patterns: forbidden.length > 0 ? patterns : [], ...more }] });
  return [
    { files: [`src/${folder}/**`], rules: rule(folder === "api" ? {} : { paths: [server] }) },
    { files: speakers.map((name) => `src/${folder}/${name}`), rules: rule({}) },
  ];
}

export default tseslint.config(
  { ignores: ["src/api/schema.gen.ts"] },
  ...tseslint.configs.recommended,
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  ...allow("api", ["kit"]),
  ...allow("kit", []),
  ...allow("sheet", ["api", "kit"]),
  ...allow("satchel", ["api", "kit", "sheet"]),
  ...allow("gallery", ["api", "kit"]),
  ...steps.flatMap((step) => allow(step, ["api", "kit", "sheet", "satchel"])),
  ...allow("path", ["api", "kit", "sheet", "satchel"]),
  ...allow("workspace", [...Object.keys(shared), ...everywhere]),
);
