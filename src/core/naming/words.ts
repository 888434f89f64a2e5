/** The words of a name, whatever its separators or case. */

const BOUNDARY = /[\p{Lu}]?[\p{Ll}\p{M}]+[\p{N}]*|[\p{Lu}\p{M}]+(?![\p{Ll}])[\p{N}]*|[\p{N}]+|[\p{Lo}\p{Lm}\p{M}]+/gu;

/** Splits a name at blanks, punctuation and changes of case; an acronym stays one word; digits stay with the word before them.
 *  Shape: words as written, in order; empty for a name without letters or digits.
 *  Source: agrees with the package change-case 5 on its own examples (tests/outside), but for digits after a separator.
 */
export const wordsOf = (name: string): string[] => name.normalize('NFC').match(BOUNDARY) ?? [];

/** The words in lower case, which is what two names are compared by. */
export const lowerWords = (name: string): readonly string[] => {
  let known = remembered.get(name);
  if (!known) {
    known = wordsOf(name).map((w) => w.toLowerCase());
    if (remembered.size >= MOST_REMEMBERED) remembered.clear();
    remembered.set(name, known);
  }
  return known;
};

const MOST_REMEMBERED = 20_000;
/** Rules ask for the words of the same names again and again. */
const remembered = new Map<string, readonly string[]>();
