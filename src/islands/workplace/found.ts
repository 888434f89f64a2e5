/** What the palette finds: whatever holds all words of a search, what begins with it first. */

/** How well a label answers a search: 0 where it begins with it, 1 where one of its words does, 2 where it holds all words; `undefined` where it does not. */
export const rankOf = (label: string, search: string): 0 | 1 | 2 | undefined => {
  const [text, needle] = [label.toLowerCase(), search.trim().toLowerCase()];
  if (!needle.split(/\s+/).every((w) => text.includes(w))) return undefined;
  if (text.startsWith(needle)) return 0;
  // A word begins after whatever separates words in names, and at a capital within one.
  const words = label.replaceAll(/(\p{Ll})(\p{Lu})/gu, '$1 $2').toLowerCase().split(/[\s_\-./]+/); // prettier-ignore
  return words.some((_, i) =>
    words
      .slice(i)
      .join(' ')
      .startsWith(needle.replaceAll(/[\s_\-./]+/g, ' ')),
  )
    ? 1
    : 2;
};

/** The best of a list, those of one rank in their order. */
export const foundIn = <T>(all: Iterable<T>, search: string, labelOf: (t: T) => string, most: number): T[] => {
  const byRank: T[][] = [[], [], []];
  for (const t of all) {
    const rank = rankOf(labelOf(t), search);
    if (rank !== undefined && byRank[rank]!.length < most) byRank[rank]!.push(t);
  }
  return byRank.flat().slice(0, most);
};
