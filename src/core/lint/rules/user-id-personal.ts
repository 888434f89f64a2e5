import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly because: string;
}

const EMAIL = /^[^\s@]+@[^\s@]+\.[^\s@]+$/;

export const userIdPersonal = defineRule({
  id: 'user-id-personal',
  title: 'User ID that is personal data',
  why: 'It lands in every message and every export, and cannot be taken back from all of them.',
  example: { wrong: '`ada@example.org` as the user ID', right: '`m-10042` as the user ID' },
  severity: 'stop',
  message: (p: Params) => `The identifier \`${p.name}\` is personal data: ${p.because}. Use a number without meaning.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, k] of entries(plan, 'identifierKind')) {
      if (k.identifies !== 'person') continue;
      const because =
        EMAIL.test(k.sample) || k.pattern.includes('@') ? 'it is an e-mail address' : k.personalData ? 'it is marked so' : undefined;
      if (because !== undefined) yield { path: ['identifierKind', id, 'personalData'], params: { name: k.name, because } };
    }
  },
});
