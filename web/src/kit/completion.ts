/** plain is a word without case and accents. */
export const plain = (text: string) => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/**
 * completions are the names that what was typed may mean, the likeliest first: those that begin with it, then those of which a word
 * does, then the rest that hold it, then those that begin so but for a slip of the hand; within each, those that are used most. Case and
 * accents do not matter.
 */
export function completions<T extends { name: string; uses: number }>(typed: string, all: T[], most: number): T[] {
  const wanted = plain(typed.trim());
  if (!wanted) return [];
  const ranks: T[][] = [[], [], [], []];
  for (const tag of all) {
    const name = plain(tag.name);
    const at = name.indexOf(wanted);
    if (name === wanted) continue;
    if (at < 0) {
      if (name.split(/[\s\-–/,.]+/).some((word) => slipped(wanted, word))) ranks[3]!.push(tag);
      continue;
    }
    ranks[at === 0 ? 0 : name.split(/[\s\-–/,.]+/).some((word) => word.startsWith(wanted)) ? 1 : 2]!.push(tag);
  }
  return ranks.flatMap((rank) => rank.sort((a, b) => b.uses - a.uses)).slice(0, most);
}

/** slipped says whether what was typed, of four letters at least, begins a word but for one letter that is wrong, missing or too
 * many, or two that changed places. */
function slipped(typed: string, word: string): boolean {
  if (typed.length < 4) return false;
  let i = 0;
  while (i < typed.length && typed[i] === word[i]) i++;
  const begins = (from: number, at: number) => word.slice(at).startsWith(typed.slice(from)) && at < word.length;
  return (
    begins(i + 1, i + 1) ||
    begins(i, i + 1) ||
    (begins(i + 1, i) && i > 0) ||
    (typed[i] === word[i + 1] && typed[i + 1] === word[i] && (begins(i + 2, i + 2) || i + 2 === typed.length))
  );
}

/** foundBy are those that say all the words that were typed, whatever their case and accents; where none does, those that say them but for
 * a slip of the hand in each. */
export function foundBy<T>(typed: string, all: T[], said: (one: T) => string): T[] {
  const words = plain(typed).split(/\s+/).filter(Boolean);
  if (words.length === 0) return all;
  const exact = all.filter((one) => {
    const text = plain(said(one));
    return words.every((w) => text.includes(w));
  });
  if (exact.length > 0) return exact;
  return all.filter((one) => {
    const text = plain(said(one));
    const parts = text.split(/[\s\-–/,.]+/);
    return words.every((w) => text.includes(w) || parts.some((part) => slipped(w, part)));
  });
}
