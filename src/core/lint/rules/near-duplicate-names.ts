import { meaningKey } from '../../naming/agreed-words';
import { foldName, likeness, lettersOf, type Likeness } from '../../naming/likeness';
import { lowerWords } from '../../naming/words';
import { labelOf, settingsOf, type Id, type Kind, type NamingRules, type Plan } from '../../plan/plan';
import { liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

type How = Likeness | 'same name' | 'same meaning';
interface Params {
  readonly kind: Kind;
  readonly name: string;
  readonly other: string;
  readonly likeness: How;
}

const WORDS: Record<How, string> = {
  'same name': 'stand in the plan twice under the same name',
  'same but for case': 'differ only in case, spacing or separator',
  'swapped words': 'are the same words in another order',
  'small edit distance': 'differ by a letter or two',
  'same meaning': 'say the same in other words',
};

interface Pair {
  readonly first: number;
  readonly second: number;
  readonly how: How;
}

/** Pairs of names so near that one may be taken for the other, each pair once.
 *  Names of equal fold, of equal sorted words and of equal meaning are found by key; for edit distance only names whose lengths and
 *  sets of letters are near enough are compared at all.
 */
const pairsAmong = (names: readonly string[], rules: NamingRules): Pair[] => {
  const out = new Map<number, Pair>();
  const found = (first: number, second: number, how: How) => {
    const key = first * names.length + second;
    if (!out.has(key)) out.set(key, { first, second, how });
  };
  const byKey = (keyOf: (name: string) => string, howOf: (a: string, b: string) => How | undefined) => {
    const groups = new Map<string, number[]>();
    names.forEach((n, i) => {
      const key = keyOf(n);
      const group = groups.get(key);
      if (!group) groups.set(key, [i]);
      else {
        for (const j of group) {
          const how = howOf(names[j]!, n);
          if (how) found(j, i, how);
        }
        group.push(i);
      }
    });
  };
  byKey(foldName, (a, b) => (a.normalize('NFC') === b.normalize('NFC') ? 'same name' : 'same but for case'));
  byKey(
    (n) => [...lowerWords(n)].sort().join(' '),
    (a, b) => likeness(a, b),
  );
  byKey(
    (n) => meaningKey(n, rules),
    (a, b) => (foldName(a) === foldName(b) ? undefined : 'same meaning'),
  );
  const folds = names.map(foldName);
  const letters = folds.map(lettersOf);
  const byLength = new Map<number, number[]>();
  for (let i = 0; i < names.length; i++) {
    const length = folds[i]!.length;
    for (let l = Math.max(5, length - 2); l <= length + 2; l++)
      for (const j of byLength.get(l) ?? []) {
        if (differing(letters[i]!, letters[j]!) > 4) continue;
        const how = likeness(names[j]!, names[i]!);
        if (how) found(j, i, how);
      }
    const same = byLength.get(length);
    if (same) same.push(i);
    else byLength.set(length, [i]);
  }
  return [...out.values()].sort((a, b) => a.second - b.second || a.first - b.first);
};

const differing = (a: number, b: number): number => {
  let x = a ^ b;
  let n = 0;
  for (; x !== 0; n++) x &= x - 1;
  return n;
};

/** The last answer for each kind: most edits leave all names as they are. */
const last = new Map<Kind, { names: readonly string[]; rules: NamingRules; pairs: readonly Pair[] }>();

const pairsOf = (kind: Kind, names: readonly string[], rules: NamingRules): readonly Pair[] => {
  const known = last.get(kind);
  if (known?.rules === rules && known.names.length === names.length && names.every((n, i) => n === known.names[i])) return known.pairs;
  const pairs = pairsAmong(names, rules);
  last.set(kind, { names, rules, pairs });
  return pairs;
};

export const nearDuplicateNames = defineRule({
  id: 'near-duplicate-names',
  title: 'Near-duplicate names',
  why: 'Whoever builds it will pick either name, and the count of each is then wrong.',
  severity: 'caution',
  message: (p: Params) => `\`${p.other}\` and \`${p.name}\` ${WORDS[p.likeness]}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    for (const [kind, list] of [
      ['event', liveEvents(plan)],
      ['property', liveProperties(plan)],
      ['userProperty', liveUserProperties(plan)],
    ] as const) {
      const named: (readonly [Id, string])[] = [];
      for (const [id, body] of list) {
        const name = labelOf(kind, body);
        if (lowerWords(name).length > 0) named.push([id, name]);
      }
      const names = named.map(([, n]) => n);
      for (const { first, second, how } of pairsOf(kind, names, naming))
        yield { path: [kind, named[second]![0], 'name'], params: { kind, name: names[second]!, other: names[first]!, likeness: how } };
    }
  },
});
