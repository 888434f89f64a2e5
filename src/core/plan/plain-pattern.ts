/** Patterns that the engine's own matcher, which backtracks, is fast on all the same: one character after the other, where what may repeat never begins
 *  what comes behind it. Then giving back what was taken never helps, and is never tried further than one step.
 */

/** First and last code of a stretch of characters. */
type Stretch = readonly [number, number];

export interface PlainItem {
  readonly set: readonly Stretch[];
  readonly min: number;
  readonly max: number;
}

const one = (c: string): Stretch => [c.charCodeAt(0), c.charCodeAt(0)];
const DIGITS: readonly Stretch[] = [[48, 57]];
const WORD: readonly Stretch[] = [[48, 57], [65, 90], [95, 95], [97, 122]]; // prettier-ignore
const LITERAL = /^[A-Za-z0-9_:;,@#%&=!<>~"' /-]$/;
const ESCAPED = /^\\[.\-/\\^$*+?()[\]{}|]$/;

const escaped = (text: string): readonly Stretch[] | undefined =>
  text === '\\d' ? DIGITS : text === '\\w' ? WORD : ESCAPED.test(text) ? [one(text[1]!)] : undefined;

const setOf = (text: string): readonly Stretch[] | undefined => {
  if (text[0] === '\\') return escaped(text);
  if (text[0] !== '[') return LITERAL.test(text) ? [one(text)] : undefined;
  const parts: Stretch[] = [];
  let rest = text.slice(1, -1);
  while (rest !== '') {
    const range = /^([A-Za-z0-9])-([A-Za-z0-9])/.exec(rest);
    const piece = range?.[0] ?? (rest[0] === '\\' ? rest.slice(0, 2) : rest[0]!);
    if (range) parts.push([range[1]!.charCodeAt(0), range[2]!.charCodeAt(0)]);
    else {
      const own = piece[0] === '\\' ? escaped(piece) : LITERAL.test(piece) || piece === '.' ? [one(piece)] : undefined;
      if (!own) return undefined;
      parts.push(...own);
    }
    rest = rest.slice(piece.length);
  }
  return parts.length > 0 ? parts : undefined;
};

const MAX_COUNT = 1000;

const countsOf = (quantifier: string): readonly [number, number] | undefined => {
  if (quantifier === '') return [1, 1];
  if (quantifier === '*') return [0, Infinity];
  if (quantifier === '+') return [1, Infinity];
  if (quantifier === '?') return [0, 1];
  const [, min, comma, max] = /^\{(\d+)(,?)(\d*)\}$/.exec(quantifier)!;
  const counts = [Number(min), comma === '' ? Number(min) : max === '' ? Infinity : Number(max)] as const;
  return counts[0] <= MAX_COUNT && (counts[1] === Infinity || counts[1] <= MAX_COUNT) ? counts : undefined;
};

const overlap = (a: readonly Stretch[], b: readonly Stretch[]): boolean => a.some(([f, t]) => b.some(([g, u]) => f <= u && g <= t));

/** The items of a pattern that is plain: from its begin to its end, without groups and choices; `undefined` for any other. */
export const plainItems = (source: string): readonly PlainItem[] | undefined => {
  const inner = /^\^(.*?)\$$/s.exec(source)?.[1];
  if (inner === undefined) return undefined;
  const items: PlainItem[] = [];
  for (let rest = inner; rest !== '';) {
    const found = /^(\[(?:\\.|[^\]\\^])(?:\\.|[^\]\\])*\]|\\.|[^\\[\](){}*+?|.^$])(\*|\+|\?|\{\d+(?:,\d*)?\})?(?!\?)/s.exec(rest);
    const set = found && setOf(found[1]!);
    const counts = found && countsOf(found[2] ?? '');
    if (!found || !set || !counts) return undefined;
    items.push({ set, min: counts[0], max: counts[1] });
    rest = rest.slice(found[0].length);
  }
  // What may end here or go on must be told by its next character.
  const isTold = items.every((item, i) => {
    if (item.min === item.max) return true;
    for (let k = i + 1; k < items.length; k++) {
      if (overlap(item.set, items[k]!.set)) return false;
      if (items[k]!.min > 0) break;
    }
    return true;
  });
  return isTold ? items : undefined;
};
