/** Other values that a condition lets in besides the ones it was written for: those least like the bulk first. */
export interface LookAlike {
  readonly value: string;
  readonly messages: number;
  /** How much of it the bulk of the messages has as well, 0..1. */
  readonly likeness: number;
}

/** More distinct values than these are compared by their first ones, those with most messages. */
const MAX_COMPARED = 400;

/** The words of an address or a text: what stands between its separators. */
export const wordsOf = (value: string): ReadonlySet<string> =>
  new Set(
    value
      .toLowerCase()
      .split(/[\s/?&=#.,;:_|-]+/)
      .filter((w) => w !== ''),
  );

/** Distinct values with their messages, least like the bulk first; then those with fewest messages.
 *  Shape: the value with most messages is the bulk's own and comes last, or near it. Empty for no value.
 *  Method: the mean Jaccard similarity of a value's words to those of all messages, each message counting once. Source: Jaccard 1901 for the
 *  similarity; the mean over messages is an own definition.
 */
export const lookAlikes = (values: ReadonlyMap<string, number>): LookAlike[] => {
  const all = [...values].map(([value, messages]) => ({ value, messages, words: wordsOf(value) })).sort((a, b) => b.messages - a.messages);
  const compared = all.slice(0, MAX_COMPARED);
  const total = compared.reduce((n, c) => n + c.messages, 0);
  /** Word → which of the compared have it: those without a word in common are as unlike as can be. */
  const having = new Map<string, number[]>();
  let wordless = 0;
  for (const [i, { words, messages }] of compared.entries()) {
    if (words.size === 0) wordless += messages;
    for (const w of words) {
      const own = having.get(w);
      if (own) own.push(i);
      else having.set(w, [i]);
    }
  }
  const both = new Int32Array(compared.length);
  const likenessOf = (words: ReadonlySet<string>): number => {
    if (words.size === 0) return wordless / total;
    const met: number[] = [];
    for (const w of words)
      for (const i of having.get(w) ?? []) {
        if (both[i] === 0) met.push(i);
        both[i]!++;
      }
    let sum = 0;
    for (const i of met) {
      const { words: others, messages } = compared[i]!;
      sum += (messages * both[i]!) / (words.size + others.size - both[i]!);
      both[i] = 0;
    }
    return sum / total;
  };
  return all
    .map(({ value, messages, words }) => ({ value, messages, likeness: likenessOf(words) }))
    .sort((a, b) => a.likeness - b.likeness || a.messages - b.messages || (a.value < b.value ? -1 : 1));
};

/** With less than so much of the likeness that messages have on the mean, a value is worth a look. */
const UNLIKE = 0.7;

/** Those of look-alikes that are unlike the bulk, in their order. */
export const unlikeBulk = (all: readonly LookAlike[]): LookAlike[] => {
  const total = all.reduce((n, l) => n + l.messages, 0);
  const usual = all.reduce((n, l) => n + l.likeness * l.messages, 0) / total;
  return all.filter((l) => l.likeness < UNLIKE * usual);
};

export interface Told {
  /** Those unlike the bulk, least like it first. */
  readonly unlike: readonly { readonly value: string; readonly messages: number }[];
  /** The others, most messages first. */
  readonly others: readonly { readonly value: string; readonly messages: number }[];
  /** How many more there are. */
  readonly more: number;
}

/** What is shown of values, `most` of either kind. */
export const toldApart = (
  counted: readonly { readonly value: string; readonly messages: number }[],
  all: readonly LookAlike[],
  most: number,
): Told => {
  const unlike = unlikeBulk(all).slice(0, most);
  const odd = new Set(unlike.map((l) => l.value));
  const others = counted.filter((x) => !odd.has(x.value)).slice(0, most);
  return { unlike, others, more: counted.filter((x) => !odd.has(x.value)).length - others.length };
};
