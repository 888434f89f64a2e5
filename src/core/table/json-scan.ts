/** Where a value ends in compact JSON, found without reading what it says. Source: RFC 8259. */

export const QUOTE = 34;
export const COMMA = 44;
export const COLON = 58;
export const BACKSLASH = 92;
export const OPEN = 123;
export const CLOSE = 125;
const LIST = 91;
const LIST_END = 93;
/** Bytes above this are no blank. */
export const BLANK = 32;

const ONES = 0x01010101;
const HIGH = 0x80808080 | 0;
const QUOTES = QUOTE * ONES;
const BACKSLASHES = BACKSLASH * ONES;

/** Where the closing quote is of a text whose first letter is at `i`; four bytes are looked at at once.
 *  Source: "Determine if a word has a byte equal to n", S. E. Anderson, Bit Twiddling Hacks.
 */
export const closingQuote = (from: DataView, i: number): number => {
  for (;;) {
    const word = from.getInt32(i, true);
    const q = word ^ QUOTES;
    const b = word ^ BACKSLASHES;
    const met = (((q - ONES) & ~q) | ((b - ONES) & ~b)) & HIGH;
    if (met === 0) {
      i += 4;
      continue;
    }
    i += (31 - Math.clz32(met & -met)) >> 3;
    if (from.getUint8(i) === QUOTE) return i;
    i += 2;
  }
};

/** Behind a value. A number or a literal ends where a comma, a brace or a blank is. */
export const pastValue = (from: DataView, i: number): number => {
  let c = from.getUint8(i);
  if (c === QUOTE) return closingQuote(from, i + 1) + 1;
  if (c !== OPEN && c !== LIST) {
    while (c !== COMMA && c !== CLOSE && c !== LIST_END && c > BLANK) c = from.getUint8(++i);
    return i;
  }
  let depth = 0;
  do {
    c = from.getUint8(i);
    if (c === QUOTE) i = closingQuote(from, i + 1);
    else if (c === OPEN || c === LIST) depth++;
    else if (c === CLOSE || c === LIST_END) depth--;
    i++;
  } while (depth > 0);
  return i;
};

/** Begin and end of each element of a list, one after the other. `i` is where the list's bracket is; the list is valid JSON, however it is
 *  laid out.
 */
export const elementsOf = (from: DataView, i: number): number[] => {
  const out: number[] = [];
  for (let at = i + 1; ; at++) {
    const c = from.getUint8(at);
    if (c <= BLANK || c === COMMA) continue;
    if (c === LIST_END) return out;
    const end = pastValue(from, at);
    out.push(at, end);
    at = end - 1;
  }
};

/** Whether a value is an object or a list. */
export const isNested = (first: number): boolean => first === OPEN || first === LIST;
