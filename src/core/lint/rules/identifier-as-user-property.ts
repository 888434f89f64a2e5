import { foldName } from '../../naming/likeness';
import { lowerWords } from '../../naming/words';
import { entries, type Plan } from '../../plan/plan';
import { liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
}

export const identifierAsUserProperty = defineRule({
  id: 'identifier-as-user-property',
  title: 'Identifier declared as a user property',
  why: 'The user ID belongs to the envelope of every event; as a property it identifies nobody and has a value for each person.',
  example: { wrong: 'a user property `user_id`', right: '`user` among the identifiers of every message' },
  severity: 'stop',
  message: (p: Params) => `\`${p.name}\` is an identifier, not a user property: it belongs to the identifiers of every message.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const kinds = new Set(entries(plan, 'identifierKind').flatMap(([, k]) => [foldName(k.name), `${foldName(k.name)}id`]));
    for (const [id, u] of liveUserProperties(plan)) {
      const words = lowerWords(u.name);
      const isId = words.at(-1) === 'id' && ['user', 'member', 'customer', 'account', 'person', 'client'].includes(words.at(-2) ?? '');
      if (isId || kinds.has(foldName(u.name))) yield { path: ['userProperty', id, 'name'], params: { name: u.name } };
    }
  },
});
