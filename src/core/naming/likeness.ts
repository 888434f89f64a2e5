/** How near two names are, and the nearest of many. */
import { distance } from 'fastest-levenshtein';
import { lowerWords } from './words';

/** The key under which names that differ only in case, spacing or separator fall together. */
export const foldName = (name: string): string => lowerWords(name).join('');

/** The letters of a text as bits. One edit changes at most two of them, so texts that differ in more than 2k bits are more than k
 *  edits apart. All that is not a letter shares the last bits.
 */
export const lettersOf = (text: string): number => {
  let bits = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i) - 97;
    bits |= 1 << (c >= 0 && c < 26 ? c : 26 + (text.charCodeAt(i) % 6));
  }
  return bits;
};

export type Likeness = 'same but for case' | 'swapped words' | 'small edit distance';

/** Whether two different names are so near that one may be taken for the other; `undefined` when they are not.
 *  Edits allowed: one for names of 5 to 9 letters, two from 10, none below; digits that differ are never an edit (step_1, step_2).
 *  Source: Levenshtein 1966 by the package fastest-levenshtein; the allowances are common practice.
 */
export const likeness = (a: string, b: string): Likeness | undefined => {
  if (a === b) return undefined;
  const wa = lowerWords(a);
  const wb = lowerWords(b);
  const fa = wa.join('');
  const fb = wb.join('');
  if (fa === '' || fb === '') return undefined;
  if (fa === fb) return 'same but for case';
  if (wa.length > 1 && wa.length === wb.length && [...wa].sort().join(' ') === [...wb].sort().join(' ')) return 'swapped words';
  const shorter = Math.min(fa.length, fb.length);
  const allowed = shorter < 5 ? 0 : shorter < 10 ? 1 : 2;
  if (allowed === 0 || Math.abs(fa.length - fb.length) > allowed) return undefined;
  if (fa.replace(/\d+/g, '#') === fb.replace(/\d+/g, '#')) return undefined;
  return distance(fa, fb) <= allowed ? 'small edit distance' : undefined;
};

/** The nearest of the candidates by edit distance over folded names; `undefined` when none is within half its length. */
export const nearest = (name: string, candidates: Iterable<string>): string | undefined => {
  const folded = foldName(name);
  let best: string | undefined;
  let bestDistance = Infinity;
  for (const c of candidates) {
    const d = distance(folded, foldName(c));
    if (d < bestDistance) {
      best = c;
      bestDistance = d;
    }
  }
  return best !== undefined && bestDistance <= Math.max(1, Math.floor(folded.length / 2)) ? best : undefined;
};
