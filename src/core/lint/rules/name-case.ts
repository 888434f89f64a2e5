import { keepsCase, toCase, type CaseStyle } from '../../naming/case-style';
import { setField } from '../../plan/edit';
import { entries, settingsOf, type Plan } from '../../plan/plan';
import { renameEvent } from '../../plan/rename';
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
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is not in ${p.style}.`,
  mend: (p: Params) => `Rename to \`${p.proposal}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const hit = (kind: 'event' | 'property' | 'userProperty', id: string, name: string, style: CaseStyle) => {
      const proposal = toCase(name, style);
      const edit = kind === 'event' ? renameEvent(plan, id, proposal, true) : [setField(plan, kind, id, 'name', proposal)];
      return { path: [kind, id, 'name'], params: { name, style, proposal }, fix: edit.filter((e) => e !== undefined) };
    };
    for (const [kind, style] of [
      ['event', naming.eventCase],
      ['property', naming.propertyCase],
      ['userProperty', naming.userPropertyCase],
    ] as const)
      for (const [id, { name }] of entries(plan, kind)) if (name !== '' && !keepsCase(name, style)) yield hit(kind, id, name, style);
  },
});
