import { sha256 } from "@noble/hashes/sha2.js";

/** Computes SHA-256 of files beside the page, piece by piece, so that neither memory nor screen feels a file of 4 GB. */
self.onmessage = async (event: MessageEvent<{ key: string; file: File }>) => {
  const { key, file } = event.data;
  try {
    const hash = sha256.create();
    const reader = file.stream().getReader();
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      hash.update(value);
    }
    const sum = [...hash.digest()].map((b) => b.toString(16).padStart(2, "0")).join("");
    self.postMessage({ key, sum });
  } catch {
    self.postMessage({ key }); // the file cannot be read; sending it will say so
  }
};
