import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";
import { foldersThere, walls } from "./build/walls.js";

export default tseslint.config(
  { ignores: ["src/api/schema.gen.ts"] },
  ...tseslint.configs.recommended,
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  ...walls(foldersThere()),
);
