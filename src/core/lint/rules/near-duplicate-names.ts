import { foldName, likeness, type Likeness } from '../../naming/likeness';
import { lowerWords } from '../../naming/words';
import { entries, labelOf, type Id, type Kind, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly kind: Kind;
  readonly name: string;
  readonly other: string;
  readonly likeness: Likeness | 'same name';
}

const WORDS: Record<Params['likeness'], string> = {
  'same name': 'stand in the plan twice under the same name',
  'same but for case': 'differ only in case, spacing or separator',
  'swapped words': 'are the same words in another order',
  'small edit distance': 'differ by a letter or two',
};

/** Pairs worth comparing: same fold, same sorted words, or lengths within two letters of each other. */
function* pairs(names: readonly (readonly [Id, string])[]): Iterable<[number, number]> {
  const byLength = new Map<number, number[]>();
  for (let i = 0; i < names.length; i++) {
    const length = foldName(names[i]![1]).length;
    for (let l = length - 2; l <= length + 2; l++) for (const j of byLength.get(l) ?? []) yield [j, i];
    const same = byLength.get(length);
    if (same) same.push(i);
    else byLength.set(length, [i]);
  }
}

export const nearDuplicateNames = defineRule({
  id: 'near-duplicate-names',
  title: 'Near-duplicate names',
  why: 'Whoever builds it will pick either name, and the count of each is then wrong.',
  severity: 'caution',
  message: (p: Params) => `\`${p.other}\` and \`${p.name}\` ${WORDS[p.likeness]}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const kind of ['event', 'property', 'userProperty'] as const) {
      const names = entries(plan, kind)
        .map(([id, body]) => [id, labelOf(kind, body)] as const)
        .filter(([, n]) => lowerWords(n).length > 0);
      for (const [i, j] of pairs(names)) {
        const [, other] = names[i]!;
        const [id, name] = names[j]!;
        const like = name === other ? 'same name' : likeness(other, name);
        if (like) yield { path: [kind, id, 'name'], params: { kind, name, other, likeness: like } };
      }
    }
  },
});
