/** A file on its way: first its sum is read and announced, then, unless it is here already, its bytes are sent. */
export interface Sending {
  code: string;
  intake: number;
  file: File;
  sent: number;
  state: "reading" | "queued" | "sending" | "stopped";
  /** Some of it may be there already. */
  begun?: boolean;
}

/** A file that an intake waits for. */
export interface Lost {
  code: string;
  intake: number;
  name: string;
  path: string;
  bytes: number;
  announced: boolean;
}

/** awaited parts files into those that intakes wait for, each by its name, its folder and its size, and the others. What is the same
 * but for the folder is taken too where it is the only one: a folder can be dropped from above or from inside. */
export function awaited<F extends { file: File; path: string }>(files: F[], lost: Lost[]): { again: { sending: Sending }[]; others: F[] } {
  const left = [...lost];
  const again: { sending: Sending }[] = [];
  const others: F[] = [];
  for (const f of files) {
    const same = left.filter((l) => l.name === f.file.name && l.bytes === f.file.size);
    const found = same.find((l) => l.path === f.path) ?? (same.length === 1 ? same[0] : undefined);
    if (!found) {
      others.push(f);
      continue;
    }
    left.splice(left.indexOf(found), 1);
    const { code, intake, announced } = found;
    again.push({ sending: { code, intake, file: f.file, sent: 0, state: announced ? "queued" : "reading", begun: true } });
  }
  return { again, others };
}
