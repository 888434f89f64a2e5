import { labelOf, type Kind, type Plan } from '../../plan/plan';
import { liveDefinitions, liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly kind: Kind;
  readonly name: string;
}

export const descriptionMissing = defineRule({
  id: 'description-missing',
  title: 'Description missing',
  why: 'A name alone is read in as many ways as it has readers.',
  example: { wrong: '`Loan Started` without a description', right: '`Loan Started`: “A member took a tool home.”' },
  severity: 'note',
  message: (p: Params) => `\`${p.name}\` has no description.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [kind, list] of [
      ['event', liveEvents(plan)],
      ['property', liveProperties(plan)],
      ['userProperty', liveUserProperties(plan)],
      ['definition', liveDefinitions(plan)],
    ] as const)
      for (const [id, body] of list)
        if (body.description.trim() === '') yield { path: [kind, id, 'description'], params: { kind, name: labelOf(kind, body) } };
  },
});
