import { agreedName, objectAction } from '../../naming/object-action';
import { settingsOf, type NamingRules, type Plan } from '../../plan/plan';
import { withRenameFix } from '../../plan/rename';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly order: NamingRules['wordOrder'];
  readonly proposal: string;
}

export const nameWordOrder = defineRule({
  id: 'name-word-order',
  title: 'Word order of event names',
  why: 'One order lets a reader find all that happens to an object in one place of a sorted list.',
  example: { wrong: '`Viewed Tool`, where object then action is agreed', right: '`Tool Viewed`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` does not read as ${p.order}.`,
  fix: (p: Params) => `Rename to \`${p.proposal}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    for (const [id, event] of liveEvents(plan)) {
      const parts = objectAction(event.name, naming);
      if (!parts || parts.object.length === 0 || parts.order === naming.wordOrder) continue;
      const proposal = agreedName(parts, naming);
      yield {
        path: ['event', id, 'name'],
        params: { name: event.name, order: naming.wordOrder, proposal },
        ...withRenameFix(plan, 'event', id, proposal),
      };
    }
  },
});
