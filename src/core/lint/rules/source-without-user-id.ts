import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly source: string;
  readonly kind: string;
}

export const sourceWithoutUserId = defineRule({
  id: 'source-without-user-id',
  title: 'Source that is not asked for the user ID',
  why: 'It knows who is signed in and does not say so: the same person is counted once more for each device.',
  example: { wrong: 'a source that sends `device` alone after sign-in', right: 'a source that sends `device` and `user` after sign-in' },
  severity: 'caution',
  message: (p: Params) => `${p.source} is not asked to send \`${p.kind}\` after sign-in.`,
  fix: (p: Params) => `Ask it to send \`${p.kind}\` after sign-in`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const persons = entries(plan, 'identifierKind').filter(([, k]) => k.identifies === 'person');
    const kind = persons[0]?.[1].name;
    if (kind === undefined) return;
    for (const [id, s] of entries(plan, 'source')) {
      if (s.idKinds.afterSignIn.some((k) => persons.some(([, p]) => p.name === k))) continue;
      yield {
        path: ['source', id, 'idKinds'],
        params: { source: s.name, kind },
        fix: [
          {
            op: 'set',
            kind: 'source',
            id,
            field: 'idKinds',
            before: s.idKinds,
            after: { ...s.idKinds, afterSignIn: [...s.idKinds.afterSignIn, kind] },
          },
        ],
      };
    }
  },
});
