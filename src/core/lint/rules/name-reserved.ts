import { joinWords } from '../../naming/case-style';
import { lowerWords } from '../../naming/words';
import { settingsOf, type Plan } from '../../plan/plan';
import { indexOf } from '../../plan/plan-index';
import { withRenameFix } from '../../plan/rename';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly proposal: string | undefined;
}

export const nameReserved = defineRule({
  id: 'name-reserved',
  title: 'Reserved name',
  why: 'The envelope of every message has a field of this name; a property beside it is mistaken for it.',
  example: { wrong: 'a property `time`', right: 'a property `pickup_time`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is reserved for the envelope of a message.`,
  fix: (p: Params) => `Rename to \`${p.proposal ?? ''}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const reserved = new Set(naming.reservedNames);
    const vague = new Set(naming.vagueNames);
    for (const [id, p] of liveProperties(plan)) {
      // A vague name is asked for a better one anyway; inside of an object nothing is mistaken for the envelope.
      if (p.within?.length || !reserved.has(p.name) || vague.has(p.name)) continue;
      const wanted = p.describes === '' ? undefined : joinWords([...lowerWords(p.describes), ...lowerWords(p.name)], naming.propertyCase);
      const proposal = wanted !== undefined && !indexOf(plan).propertyAt.has(wanted) ? wanted : undefined;
      yield {
        path: ['property', id, 'name'],
        params: { name: p.name, proposal },
        ...(proposal === undefined ? {} : withRenameFix(plan, 'property', id, proposal)),
      };
    }
  },
});
