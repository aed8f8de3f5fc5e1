/** plain is a word without case and accents. */
const plain = (text: string) => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/**
 * completions are the names that what was typed may mean, the likeliest first: those that begin with it, then those of which a word
 * does, then the rest that hold it; within each, those that are used most. Case and accents do not matter.
 */
export function completions<T extends { name: string; uses: number }>(typed: string, all: T[], most: number): T[] {
  const wanted = plain(typed.trim());
  if (!wanted) return [];
  const ranks: T[][] = [[], [], []];
  for (const tag of all) {
    const name = plain(tag.name);
    const at = name.indexOf(wanted);
    if (at < 0 || name === wanted) continue;
    ranks[at === 0 ? 0 : name.split(/[\s\-–/,.]+/).some((word) => word.startsWith(wanted)) ? 1 : 2]!.push(tag);
  }
  return ranks.flatMap((rank) => rank.sort((a, b) => b.uses - a.uses)).slice(0, most);
}
