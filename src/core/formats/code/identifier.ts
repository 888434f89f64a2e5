/** Names as identifiers of TypeScript: legal, unlike each other, and the same for the same plan. */
import { wordsOf } from '../../naming/words';

/** Words that a declaration cannot have. Source: ECMA-262, 12.7.2, and the words that TypeScript or strict mode keep. */
const RESERVED = new Set(
  (
    'arguments await break case catch class const continue debugger default delete do else enum eval export extends false finally for function if ' +
    'implements import in instanceof interface let new null package private protected public return static super switch this throw true try typeof ' +
    'undefined var void while with yield any unknown never string number boolean object symbol bigint type'
  ).split(' '),
);

const upper = (w: string): string => w.slice(0, 1).toUpperCase() + w.slice(1).toLowerCase();

/** The words of a name run together, the first small or large; `undefined` where nothing of it can be in an identifier. */
const joined = (name: string, first: 'small' | 'large'): string | undefined => {
  const text = wordsOf(name)
    .map((w, i) => (i === 0 && first === 'small' ? w.toLowerCase() : upper(w)))
    .join('')
    .replaceAll(/[^\p{ID_Continue}$]/gu, '');
  if (text === '') return undefined;
  return /^[\p{ID_Start}$_]/u.test(text) ? text : `_${text}`;
};

/** Gives each name an identifier of its own.
 *  Shape: a name that would be a reserved word ends in `_`; names that would be one identifier are told apart by a number, in the order in which
 *  they are given; what has no letter is `event`.
 *  Source: Unicode Standard Annex 31 (ID_Start, ID_Continue), as ECMA-262 12.7 takes it.
 */
export const identifiers = (
  names: readonly string[],
  taken: Iterable<string> = [],
): ReadonlyMap<string, { small: string; large: string }> => {
  const used = new Set([...taken, ...RESERVED]);
  const out = new Map<string, { small: string; large: string }>();
  for (const name of names) {
    const [first = 'event', second = 'Event'] = [joined(name, 'small'), joined(name, 'large')];
    const small = RESERVED.has(first) ? `${first}_` : first;
    // Scripts without case have one form of both.
    const large = second === first ? `${second}Type` : second;
    let [a, b] = [small, large];
    for (let n = 2; used.has(a) || used.has(b); n++) [a, b] = [`${small}${n}`, `${large}${n}`];
    used.add(a).add(b);
    out.set(name, { small: a, large: b });
  }
  return out;
};

/** A name as the key of a type: as it is where it may be, else in quotes. */
export const keyText = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name));
