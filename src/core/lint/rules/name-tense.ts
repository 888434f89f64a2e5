import { agreedName, objectAction } from '../../naming/object-action';
import { tenseOf } from '../../naming/tense';
import { lowerWords } from '../../naming/words';
import { settingsOf, type NamingRules, type Plan } from '../../plan/plan';
import { withRenameFix } from '../../plan/rename';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
  readonly tense: NamingRules['tense'];
  readonly proposal: string;
}

export const nameTense = defineRule({
  id: 'name-tense',
  title: 'Tense of the action',
  why: 'The past says that it has happened; one tense for all stops twins such as “Loan Start” beside “Loan Started”.',
  example: { wrong: '`Workshop Book`, where the past tense is agreed', right: '`Workshop Booked`' },
  severity: 'caution',
  message: (p: Params) => `The action “${p.word}” in \`${p.name}\` is not in the ${p.tense} tense.`,
  fix: (p: Params) => `Rename to \`${p.proposal}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const agreed = new Set(naming.actions.map((a) => lowerWords(a).join(' ')));
    const other = naming.tense === 'past' ? 'present' : 'past';
    for (const [id, event] of liveEvents(plan)) {
      const parts = objectAction(event.name, naming);
      const verb = parts?.action[0];
      if (!parts || verb === undefined || agreed.has(parts.action.join(' ')) || tenseOf(verb) !== other) continue;
      const proposal = agreedName(parts, naming);
      if (proposal === event.name) continue;
      yield {
        path: ['event', id, 'name'],
        params: { name: event.name, word: verb, tense: naming.tense, proposal },
        ...withRenameFix(plan, 'event', id, proposal),
      };
    }
  },
});
