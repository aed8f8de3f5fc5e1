import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// Steps of the work import what all share, never each other; what all share imports no step.
const steps = ["bringin", "filing", "gathering", "describing", "choosing", "sendout", "people", "upkeep"];
const shared = { api: ["api"], kit: ["kit"], sheet: ["api", "kit", "sheet"], satchel: ["api", "kit", "sheet", "satchel"] };
const everywhere = ["path", "workspace", "gallery", ...steps];

function allow(folder, allowed) {
  const forbidden = [...Object.keys(shared), ...everywhere].filter((f) => f !== folder && !allowed.includes(f));
  return {
    files: [`src/${folder}/**`],
    rules: {
      "no-restricted-imports": ["error", { patterns: [{ group: forbidden.flatMap((f) => [`~/${f}/*`, `**/../${f}/*`]), message: `${folder}/ may import only ${allowed.join(", ")}.` }] }],
    },
  };
}

export default tseslint.config(
  { ignores: ["src/api/schema.gen.ts"] },
  ...tseslint.configs.recommended,
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  allow("api", ["kit"]),
  allow("kit", []),
  allow("sheet", ["api", "kit"]),
  allow("satchel", ["api", "kit", "sheet"]),
  allow("gallery", ["api", "kit"]),
  ...steps.map((step) => allow(step, ["api", "kit", "sheet", "satchel"])),
  allow("path", ["api", "kit", "sheet", "satchel"]),
);
