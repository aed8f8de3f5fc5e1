import { defineConfig } from "vite";

/** The script of live embeds: one classic file under an address that never changes. */
export default defineConfig({
  publicDir: false,
  resolve: { alias: { "~": new URL("./src", import.meta.url).pathname } },
  build: {
    emptyOutDir: false,
    lib: { entry: "src/embed/element.ts", formats: ["iife"], name: "satchelPictures", fileName: () => "embed.js" },
  },
});
