/** Tense of a verb: a hint, since no word list knows every product verb. */
import irregular from 'wink-lexicon/src/wn-verb-exceptions.js';

const PARTICLES = new Set(['in', 'out', 'up', 'off', 'on', 'down', 'back', 'again', 'over']);

/** Whether a word can follow a verb as a part of the action ("signed in"). */
export const isParticle = (word: string): boolean => PARTICLES.has(word);

/** Verbs whose past is their base form. */
const SAME_IN_PAST = new Set(['read', 'set', 'reset', 'put', 'cut', 'hit', 'shut', 'split', 'let', 'cost', 'upset']);

/** Base forms that occur in event names: no rule can tell a base form from a noun ("view", "order"). */
const BASE_VERBS = new Set(
  `accept activate add apply archive attend book borrow browse buy call cancel change charge check choose clear click close
   complete confirm connect copy create decline delete deliver disable dismiss download edit enable end enter expire extend
   fail filter find finish follow generate get go hide import install invite join launch leave lend like list load log lose make
   merge move open order pause pay pick play post press print publish purchase rate receive recover redeem refund register
   reject remove rename renew rent reply report request reserve resume return review save scan schedule scroll search see
   select send share show sign skip sort start stop submit subscribe swipe switch tap track transfer type unlock unsubscribe
   update upgrade upload use verify view visit wait watch withdraw write`.split(/\s+/),
);

const candidates = (word: string): string[] => {
  const cut = (suffix: string): string => word.slice(0, -suffix.length);
  if (word.endsWith('ied')) return [`${cut('ied')}y`];
  if (word.endsWith('ed')) return [cut('ed'), cut('d')];
  if (word.endsWith('ing')) return [cut('ing'), `${cut('ing')}e`];
  if (word.endsWith('es')) return [cut('s'), cut('es')];
  return word.endsWith('s') && !word.endsWith('ss') ? [cut('s')] : [];
};

/** The base form of a verb; the word itself where neither the exceptions nor the rules know it.
 *  Source: exceptions of WordNet as in the package wink-lexicon 2; regular forms by rule.
 */
export const presentOf = (word: string): string => {
  // "rent" is a base form here, and not the past of "rend".
  if (BASE_VERBS.has(word) || SAME_IN_PAST.has(word)) return word;
  const known = Object.hasOwn(irregular, word) ? irregular[word] : undefined;
  if (known !== undefined) return known;
  const list = candidates(word);
  return list.find((c) => BASE_VERBS.has(c) || SAME_IN_PAST.has(c)) ?? (word.endsWith('ed') && word.length > 4 ? (list[0] ?? word) : word);
};

/** `past`, `present`, or `unknown` where the word is not known as a verb form.
 *  Shape: one lower-case word. Words on the workspace's own list of actions are taken as they are by the caller.
 *  Limits: regular "-ed" of more than four letters is always taken as past; base forms only from the list of common ones.
 */
export const tenseOf = (word: string): 'past' | 'present' | 'unknown' => {
  if (SAME_IN_PAST.has(word)) return 'past';
  if (BASE_VERBS.has(word)) return 'present';
  const base = presentOf(word);
  if (base !== word) return word.endsWith('ing') || (word.endsWith('s') && !word.endsWith('ed')) ? 'present' : 'past';
  return 'unknown';
};

/** The past forms of verbs whose exceptions list has several; the first of the others is taken. */
const PREFERRED_PAST: Record<string, string> = {
  begin: 'began', cancel: 'cancelled', choose: 'chose', find: 'found', get: 'got', go: 'went', hide: 'hid', see: 'saw', show: 'showed',
  withdraw: 'withdrew', write: 'wrote', buy: 'bought', leave: 'left', lend: 'lent', lose: 'lost', make: 'made', pay: 'paid', send: 'sent',
}; // prettier-ignore

const pastOfBase = new Map<string, string>();
for (const [form, base] of Object.entries(irregular)) if (form.endsWith('ed') && !pastOfBase.has(base)) pastOfBase.set(base, form);

/** The past form of a verb in any form; regular verbs by rule. */
export const pastOf = (word: string): string => {
  if (tenseOf(word) === 'past') return word;
  const base = presentOf(word);
  const known = PREFERRED_PAST[base] ?? pastOfBase.get(base);
  if (known !== undefined) return known;
  // An unknown form in -ing: its stem is that of the past as well, doubled letters and all.
  if (base.length > 5 && base.endsWith('ing') && /[aeiouy]/.test(base.slice(0, -3))) return regularPast(base.slice(0, -3));
  return regularPast(base);
};

const regularPast = (base: string): string => {
  if (base.endsWith('e')) return `${base}d`;
  if (/[^aeiou]y$/.test(base)) return `${base.slice(0, -1)}ied`;
  return `${base}ed`;
};
