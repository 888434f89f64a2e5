import { meaningKey } from '../../naming/agreed-words';
import { foldName, likeness, lettersOf, type Likeness } from '../../naming/likeness';
import { lowerWords } from '../../naming/words';
import { settingsOf, type Id, type Kind, type NamingRules, type Plan } from '../../plan/plan';
import { liveDefinitions, liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

type How = Likeness | 'same name' | 'same meaning';
interface Params {
  readonly kind: Kind;
  readonly name: string;
  readonly other: string;
  readonly likeness: How;
}

const WORDS: Record<How, string> = {
  'same name': 'are in the plan twice under the same name',
  'same but for case': 'differ only in case, spacing or separator',
  'swapped words': 'are the same words in another order',
  'small edit distance': 'differ by a letter or two',
  'same meaning': 'say the same in other words',
};

export interface Pair {
  readonly first: number;
  readonly second: number;
  readonly how: How;
}

/** What a name is compared by. */
interface Keys {
  readonly name: string;
  /** Where it is: names in different objects are no rivals. */
  readonly place: string;
  readonly fold: string;
  readonly sorted: string;
  readonly meaning: string;
  readonly letters: number;
}

const keysOf = (name: string, place: string, rules: NamingRules): Keys => {
  const fold = foldName(name);
  return { name, place, fold, sorted: [...lowerWords(name)].sort().join(' '), meaning: meaningKey(name, rules), letters: lettersOf(fold) };
};

const differing = (a: number, b: number): number => {
  let x = a ^ b;
  let n = 0;
  for (; x !== 0; n++) x &= x - 1;
  return n;
};

/** How two names are alike. Most pairs are told apart by their keys; only the few left are compared letter by letter. */
const alike = (a: Keys, b: Keys): How | undefined => {
  if (a.place !== b.place) return undefined;
  if (a.fold === b.fold) return a.name.normalize('NFC') === b.name.normalize('NFC') ? 'same name' : 'same but for case';
  if (a.sorted === b.sorted) return 'swapped words';
  if (a.meaning === b.meaning) return 'same meaning';
  const gap = a.fold.length - b.fold.length;
  return gap >= -2 && gap <= 2 && differing(a.letters, b.letters) <= 4 ? likeness(a.name, b.name) : undefined;
};

/** The last answer for each kind. */
interface Known {
  readonly rules: NamingRules;
  readonly keys: readonly Keys[];
  readonly pairs: readonly Pair[];
}
const last = new Map<Kind, Known>();

/** All pairs of names that are alike, in the order of the second, then of the first.
 *  An edit changes few names, so all pairs of the others are taken from the last answer.
 */
const pairsOf = (kind: Kind, names: readonly string[], places: readonly string[], rules: NamingRules): readonly Pair[] => {
  const known = last.get(kind)?.rules === rules ? last.get(kind) : undefined;
  const keys = names.map((n, i) => {
    const before = known?.keys[i];
    return before?.name === n && before.place === places[i] ? before : keysOf(n, places[i]!, rules);
  });
  const isNew = keys.map((k, i) => k !== known?.keys[i]);
  if (known && known.keys.length === keys.length && !isNew.includes(true)) return known.pairs;
  const pairs = (known?.pairs ?? []).filter((p) => p.second < keys.length && !isNew[p.first] && !isNew[p.second]);
  for (let i = 0; i < keys.length; i++) {
    if (!isNew[i]) continue;
    for (let j = 0; j < keys.length; j++) {
      if (j === i || (isNew[j] && j > i)) continue;
      const how = alike(keys[Math.min(i, j)]!, keys[Math.max(i, j)]!);
      if (how) pairs.push({ first: Math.min(i, j), second: Math.max(i, j), how });
    }
  }
  pairs.sort((a, b) => a.second - b.second || a.first - b.first);
  last.set(kind, { rules, keys, pairs });
  return pairs;
};

export const nearDuplicateNames = defineRule({
  id: 'near-duplicate-names',
  title: 'Near-duplicate names',
  why: 'Whoever builds it will pick either name, and the count of each is then wrong.',
  example: { wrong: '`Tool Viewed` beside `Tool viewed`', right: '`Tool Viewed` alone' },
  severity: 'caution',
  message: (p: Params) => `\`${p.other}\` and \`${p.name}\` ${WORDS[p.likeness]}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    for (const [kind, list] of [
      ['event', liveEvents(plan)],
      ['property', liveProperties(plan)],
      ['userProperty', liveUserProperties(plan)],
      ['definition', liveDefinitions(plan)],
    ] as const) {
      const named: (readonly [Id, string, string])[] = [];
      for (const [id, body] of list) {
        const { name } = body;
        if (lowerWords(name).length > 0) named.push([id, name, 'within' in body && body.within?.length ? JSON.stringify(body.within) : '']);
      }
      const names = named.map(([, n]) => n);
      for (const { first, second, how } of pairsOf(
        kind,
        names,
        named.map(([, , place]) => place),
        naming,
      ))
        yield { path: [kind, named[second]![0], 'name'], params: { kind, name: names[second]!, other: names[first]!, likeness: how } };
    }
  },
});
