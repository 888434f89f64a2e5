import type { Plan } from '../../plan/plan';
import { acceptSuggestions, suggestionsOf, type ObjectSuggestions } from '../../plan/suggestions';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly object: string;
  readonly properties: readonly string[];
}

const hitsOf = (plan: Plan, group: ObjectSuggestions): RuleHit<Params>[] =>
  [...group.lacking].map(([eventId, propertyIds]) => ({
    path: ['event', eventId, 'properties'],
    params: {
      name: plan.event[eventId]!.name,
      object: group.object,
      properties: propertyIds.map((p) => refText(refOfProperty(plan.property[p]!))),
    },
    fix: acceptSuggestions(plan, [[eventId, propertyIds]]),
  }));

/** A group keeps its identity as long as nothing about its object changes. */
const known = new WeakMap<ObjectSuggestions, RuleHit<Params>[]>();

export const sameObjectLacks = defineRule({
  id: 'same-object-lacks',
  title: 'Property that other events on the object have',
  why: 'What is known of a thing in one place is mostly known in the other, and then both can be grouped by it.',
  example: {
    wrong: '`Tool Reserved` without `tool_category`, which the other events on tool carry',
    right: '`Tool Reserved` with `tool_category`',
  },
  severity: 'note',
  message: (p: Params) => `Other events on ${p.object} carry ${p.properties.map((n) => `\`${n}\``).join(', ')}; \`${p.name}\` does not.`,
  fix: (p: Params) => `Add ${p.properties.length === 1 ? 'it' : `these ${p.properties.length}`}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const group of suggestionsOf(plan)) {
      let hits = known.get(group);
      if (!hits) known.set(group, (hits = hitsOf(plan, group)));
      yield* hits;
    }
  },
});
