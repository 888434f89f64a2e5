import { joinWords } from '../../naming/case-style';
import { lowerWords } from '../../naming/words';
import { settingsOf, type Id, type Plan } from '../../plan/plan';
import { carriersOf, indexOf } from '../../plan/plan-index';
import { withRenameFix } from '../../plan/rename';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly proposal: string | undefined;
}

/** The object that the property speaks of: its own, or the one object of the events that carry it. */
const objectOf = (plan: Plan, id: Id): string | undefined => {
  const own = plan.property[id]?.describes;
  if (own) return own;
  const objects = new Set(carriersOf(plan, id).map((e) => plan.event[e]!.object));
  objects.delete('');
  return objects.size === 1 ? [...objects][0] : undefined;
};

export const vaguePropertyName = defineRule({
  id: 'vague-property-name',
  title: 'Vague property name',
  why: 'A bare “name” or “type” means another thing on each event, so nobody can compare or group by it safely.',
  example: { wrong: 'a property `type`', right: 'a property `tool_category`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` alone does not say of what. Name the thing it describes.`,
  fix: (p: Params) => `Rename to \`${p.proposal ?? ''}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const vague = new Set(naming.vagueNames.map((n) => lowerWords(n).join(' ')));
    const taken = indexOf(plan).propertyAt;
    for (const [id, { name, within = [] }] of liveProperties(plan)) {
      // An object says of what it is that it holds.
      if (within.length > 0 || !vague.has(lowerWords(name).join(' '))) continue;
      const object = objectOf(plan, id);
      const wanted = object === undefined ? undefined : joinWords([...lowerWords(object), ...lowerWords(name)], naming.propertyCase);
      const proposal = wanted !== undefined && !taken.has(wanted) ? wanted : undefined;
      yield {
        path: ['property', id, 'name'],
        params: { name, proposal },
        ...(proposal === undefined ? {} : withRenameFix(plan, 'property', id, proposal)),
      };
    }
  },
});
