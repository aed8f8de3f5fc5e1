import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = "http://127.0.0.1:8460";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { alias: { "~": new URL("./src", import.meta.url).pathname } },
  build: {
    manifest: true, // for build/budget.mjs
    rollupOptions: { input: { app: "index.html", gallery: "gallery.html", screen: "screen.html" } },
    chunkSizeWarningLimit: 900,
    assetsInlineLimit: 0, // the policy allows no data: fonts
  },
  server: { proxy: { "/api": server, "/media": server, "/downloads": server } },
});
