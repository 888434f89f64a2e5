import { keepsCase, toCase, type CaseStyle } from '../../naming/case-style';
import { settingsOf, type Plan } from '../../plan/plan';
import { withRenameFix } from '../../plan/rename';
import { liveDefinitions, liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly style: CaseStyle;
  readonly proposal: string;
}

export const nameCase = defineRule({
  id: 'name-case',
  title: 'Case style of names',
  why: 'Names are case-sensitive on the wire: two styles side by side split the data of one event in two.',
  example: { wrong: '`tool viewed`, where Title Case is agreed', right: '`Tool Viewed`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is not in ${p.style}.`,
  fix: (p: Params) => `Rename to \`${p.proposal}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const hit = (kind: 'event' | 'property' | 'userProperty' | 'definition', id: string, name: string, style: CaseStyle) => {
      const proposal = toCase(name, style);
      return { path: [kind, id, 'name'], params: { name, style, proposal }, ...withRenameFix(plan, kind, id, proposal) };
    };
    for (const [kind, style, list] of [
      ['event', naming.eventCase, liveEvents(plan)],
      ['property', naming.propertyCase, liveProperties(plan)],
      ['userProperty', naming.userPropertyCase, liveUserProperties(plan)],
      ['definition', naming.eventCase, liveDefinitions(plan)],
    ] as const)
      for (const [id, { name }] of list) if (name !== '' && !keepsCase(name, style)) yield hit(kind, id, name, style);
  },
});
