/** Object and action in an event's name. */
import type { NamingRules } from '../plan/plan';
import { joinWords } from './case-style';
import { isParticle, pastOf, presentOf, tenseOf } from './tense';
import { lowerWords } from './words';

export interface ObjectAction {
  readonly object: readonly string[];
  readonly action: readonly string[];
  readonly order: 'object then action' | 'action then object';
}

/** Splits the words of an event's name into object and action.
 *  Shape: lower-case words; an action may have a particle ("signed in"), and then no object is needed.
 *  Agreed actions of the workspace win over the guess by verb forms. `undefined` when no word is known as a verb.
 */
export const objectAction = (name: string, rules: NamingRules): ObjectAction | undefined => {
  let known = remembered.get(rules);
  if (!known) remembered.set(rules, (known = { agreed: new Set(rules.actions.flatMap((a) => lowerWords(a))), byName: new Map() }));
  const { byName, agreed } = known;
  if (!byName.has(name)) {
    if (byName.size >= MAX_REMEMBERED) byName.clear();
    byName.set(name, split(name, rules, agreed));
  }
  return byName.get(name);
};

const MAX_REMEMBERED = 5000;
/** Several rules split the same names under the same rules. */
const remembered = new WeakMap<
  NamingRules,
  { readonly agreed: ReadonlySet<string>; readonly byName: Map<string, ObjectAction | undefined> }
>();

/** Prepositions that tie a noun to the verb before them. */
const HANGS_ON = new Set(['to', 'by', 'from', 'with', 'into', 'onto', 'for', 'at', 'as', 'via']);

/** An agreed action of several words, at either end of a name: the longest that fits. */
const agreedIn = (words: readonly string[], rules: NamingRules): ObjectAction | undefined => {
  const several = rules.actions.map((a) => lowerWords(a)).filter((a) => a.length > 1 && a.length < words.length);
  for (const action of several.sort((a, b) => b.length - a.length)) {
    const n = action.length;
    if (action.every((w, i) => w === words[words.length - n + i]))
      return { object: words.slice(0, -n), action: words.slice(-n), order: 'object then action' };
    if (action.every((w, i) => w === words[i])) return { object: words.slice(n), action: words.slice(0, n), order: 'action then object' };
  }
  return undefined;
};

const split = (name: string, rules: NamingRules, agreed: ReadonlySet<string>): ObjectAction | undefined => {
  const words = lowerWords(name);
  const whole = agreedIn(words, rules);
  if (whole) return whole;
  const isVerb = (w: string): boolean => agreed.has(w) || tenseOf(w) !== 'unknown';
  const last = words.at(-1);
  if (last === undefined) return undefined;
  const before = words.at(-2);
  if (before !== undefined && isParticle(last) && isVerb(before))
    return { object: words.slice(0, -2), action: words.slice(-2), order: 'object then action' };
  // "moved to shelf", "closed by member": the verb and what hangs on it.
  const at = words.findIndex((w, i) => i > 0 && HANGS_ON.has(words[i + 1] ?? '') && words.length > i + 2 && isVerb(w));
  if (at > 0) return { object: words.slice(0, at), action: words.slice(at), order: 'object then action' };
  const first = words[0]!;
  const lastFits = isVerb(last);
  const firstFits = words.length > 1 && isVerb(first);
  // Both may be verb forms ("Search Returned"): the agreed order decides, unless only one is in the past.
  const preferFirst = firstFits && (!lastFits || (rules.wordOrder === 'action then object' && !agreed.has(last)));
  if (preferFirst) {
    const n = words[1] !== undefined && isParticle(words[1]) ? 2 : 1;
    return { object: words.slice(n), action: words.slice(0, n), order: 'action then object' };
  }
  if (lastFits) return { object: words.slice(0, -1), action: words.slice(-1), order: 'object then action' };
  return undefined;
};

/** The name as the workspace's rules want it: order, tense and case at once. An agreed action keeps its form. */
export const agreedName = ({ object, action }: ObjectAction, rules: NamingRules): string => {
  const agreed = new Set(rules.actions.map((a) => lowerWords(a).join(' ')));
  const [verb = '', ...particles] = action;
  const form = agreed.has(action.join(' ')) ? verb : rules.tense === 'past' ? pastOf(verb) : presentOf(verb);
  const wanted = [form, ...particles];
  return joinWords(rules.wordOrder === 'object then action' ? [...object, ...wanted] : [...wanted, ...object], rules.eventCase);
};
