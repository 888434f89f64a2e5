/** Tense of a verb: a hint, since no word list knows every product verb. */
import lemmatizer from 'wink-lemmatizer';

const PARTICLES = new Set(['in', 'out', 'up', 'off', 'on', 'down', 'back', 'again', 'over']);

/** Where the action stands in the words of a name: its first word's index, allowing for particles ("signed in"). */
export const isParticle = (word: string): boolean => PARTICLES.has(word);

/** `past`, `present`, or `unknown` where the word is not known as a verb form.
 *  Shape: one lower-case word. A word on the workspace's own list of actions is taken at its word by the caller.
 *  Source: the package wink-lemmatizer 3 (WordNet verb forms); regular "-ed" is taken as past.
 */
export const tenseOf = (word: string): 'past' | 'present' | 'unknown' => {
  const lemma = lemmatizer.verb(word);
  if (lemma !== word) {
    if (word.endsWith('ing')) return 'present';
    if (word.endsWith('s') && !word.endsWith('ss')) return 'present';
    return 'past';
  }
  if (word.endsWith('ed') && word.length > 4) return 'past';
  if (IRREGULAR_SAME.has(word)) return 'past';
  return BASE_VERBS.has(word) ? 'present' : 'unknown';
};

/** Verbs whose past is their base form. */
const IRREGULAR_SAME = new Set(['read', 'set', 'reset', 'put', 'cut', 'hit', 'shut', 'split', 'let', 'cost', 'upset']);

/** Base forms that occur in event names; the lemmatizer alone cannot tell a base form from a noun. */
const BASE_VERBS = new Set(
  `accept activate add apply archive attend book borrow browse buy call cancel change charge check choose clear click close
   complete confirm connect copy create decline delete deliver disable dismiss download edit enable end enter expire extend
   fail filter find finish follow generate get go hide import install invite join launch leave lend like list load log lose make
   merge move open order pause pay pick play post press print publish purchase rate receive recover redeem refund register
   reject remove rename renew rent reply report request reserve resume return review save scan schedule scroll search see
   select send share show sign skip sort start stop submit subscribe swipe switch tap track transfer type unlock unsubscribe
   update upgrade upload use verify view visit watch withdraw write`.split(/\s+/),
);

const IRREGULAR_PAST: Record<string, string> = {
  begin: 'began', buy: 'bought', choose: 'chose', find: 'found', get: 'got', go: 'went', hide: 'hid', leave: 'left', lend: 'lent', lose: 'lost',
  make: 'made', pay: 'paid', see: 'saw', send: 'sent', withdraw: 'withdrew', write: 'wrote', stop: 'stopped', submit: 'submitted', skip: 'skipped',
  tap: 'tapped', log: 'logged', refer: 'referred', transfer: 'transferred', scan: 'scanned', cancel: 'cancelled', swap: 'swapped', read: 'read',
  set: 'set', reset: 'reset', put: 'put', cut: 'cut', hit: 'hit', shut: 'shut', split: 'split', let: 'let',
}; // prettier-ignore

/** The past form of a verb in any form; regular verbs by rule. */
export const pastOf = (word: string): string => {
  if (tenseOf(word) === 'past') return word;
  const base = lemmatizer.verb(word);
  const irregular = IRREGULAR_PAST[base];
  if (irregular) return irregular;
  if (base.endsWith('e')) return `${base}d`;
  if (/[^aeiou]y$/.test(base)) return `${base.slice(0, -1)}ied`;
  return `${base}ed`;
};

/** The base form of a verb. */
export const presentOf = (word: string): string => lemmatizer.verb(word);
