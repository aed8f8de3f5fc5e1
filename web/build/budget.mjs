// How many bytes of scripts, compressed by brotli, a browser loads before it shows what somebody came for. Run after a build; it fails
// where one of them is over its limit.
import { readFileSync, statSync } from "node:fs";

/** What is loaded for what: the page, and the parts that it then asks for. Limits are in bytes. */
export const budgets = [
  { what: "sign-in", parts: ["index.html"], most: 120_000 },
  { what: "the library", parts: ["index.html", "src/workspace/Frame.tsx", "src/workspace/Workspace.tsx"], most: 230_000 },
  { what: "a guest's gallery", parts: ["gallery.html"], most: 125_000 },
  { what: "a screen", parts: ["screen.html"], most: 10_000 },
];

/** loadedFor lists the files of scripts that some parts need, by the manifest of the build. */
export function loadedFor(manifest, parts) {
  const files = new Set();
  const visit = (name) => {
    const chunk = manifest[name];
    if (!chunk) throw new Error(`The build has no part ${name}.`);
    if (files.has(chunk.file)) return;
    files.add(chunk.file);
    for (const next of chunk.imports ?? []) visit(next);
  };
  parts.forEach(visit);
  return [...files];
}

/** over lists what is over its limit, as sentences. */
export function over(manifest, size, limits = budgets) {
  return limits.flatMap(({ what, parts, most }) => {
    const bytes = loadedFor(manifest, parts).reduce((sum, file) => sum + size(file), 0);
    return bytes > most ? [`${what} loads ${bytes} bytes of scripts, and may load ${most}`] : [];
  });
}

if (import.meta.url === `file://${process.argv[1]}`) {
  const dist = new URL("../dist/", import.meta.url);
  const size = (file) => {
    try {
      return statSync(new URL(`${file}.br`, dist)).size;
    } catch {
      return statSync(new URL(file, dist)).size; // too small to be compressed
    }
  };
  const manifest = JSON.parse(readFileSync(new URL(".vite/manifest.json", dist), "utf8"));
  for (const { what, parts } of budgets)
    console.log(`${what}: ${loadedFor(manifest, parts).reduce((sum, file) => sum + size(file), 0)} bytes`);
  const wrong = over(manifest, size);
  for (const sentence of wrong) console.error(sentence);
  process.exitCode = wrong.length > 0 ? 1 : 0;
}
