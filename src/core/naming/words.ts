/** The words of a name, whatever its separators or case. */

const BOUNDARY = /[\p{Lu}]?[\p{Ll}\p{M}]+[\p{N}]*|[\p{Lu}\p{M}]+(?![\p{Ll}])[\p{N}]*|[\p{N}]+|[\p{Lo}\p{Lm}\p{M}]+/gu;

/** Words that are written with capitals in the middle, and are one word where they are on their own. Common practice, no source. */
const PROPER = new Map(
  ['iOS', 'iPadOS', 'macOS', 'tvOS', 'watchOS', 'iPhone', 'iPad', 'eSIM', 'eBook', 'eID', 'WiFi', 'OAuth'].map((w) => [w.toLowerCase(), w]),
);
const MIXED = new RegExp([...PROPER.values()].join('|'));
const SEPARATORS = /[^\p{L}\p{M}\p{N}]+/u;

/** A word as it is written where words begin with a capital: proper ones in their own way. */
export const properWord = (lower: string): string | undefined => PROPER.get(lower);

/** Splits a name at blanks, punctuation and changes of case; an acronym stays one word; digits stay with the word before them.
 *  Shape: words as written, in order; empty for a name without letters or digits.
 *  Source: agrees with the package change-case 5 on its own examples (tests/outside), but for digits after a separator.
 */
export const wordsOf = (name: string): string[] => {
  const plain = name.normalize('NFC');
  const first = plain.match(BOUNDARY) ?? [];
  // Only a name that holds one is looked through token by token.
  if (!MIXED.test(plain)) return first;
  return plain
    .split(SEPARATORS)
    .flatMap((token) => (PROPER.has(token.toLowerCase()) && token !== token.toLowerCase() ? [token] : (token.match(BOUNDARY) ?? [])));
};

/** The words in lower case, which is what two names are compared by. */
export const lowerWords = (name: string): readonly string[] => {
  let known = remembered.get(name);
  if (!known) {
    known = wordsOf(name).map((w) => w.toLowerCase());
    if (remembered.size >= MAX_REMEMBERED) remembered.clear();
    remembered.set(name, known);
  }
  return known;
};

const MAX_REMEMBERED = 20_000;
/** Rules ask for the words of the same names again and again. */
const remembered = new Map<string, readonly string[]>();
