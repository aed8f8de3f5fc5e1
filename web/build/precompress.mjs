// Compresses what was built once, so that the server only has to hand it out.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { brotliCompressSync, gzipSync } from "node:zlib";

const dist = new URL("../dist/", import.meta.url);
for (const file of readdirSync(dist, { recursive: true })) {
  if (!/\.(js|css|html|svg)$/.test(file)) continue;
  const data = readFileSync(new URL(file, dist));
  if (data.length < 1024) continue;
  writeFileSync(new URL(`${file}.br`, dist), brotliCompressSync(data));
  writeFileSync(new URL(`${file}.gz`, dist), gzipSync(data, { level: 9 }));
}
