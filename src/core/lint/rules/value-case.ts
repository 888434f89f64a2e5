import { keepsCase, toCase, type CaseStyle } from '../../naming/case-style';
import { settingsOf, type Plan } from '../../plan/plan';
import { liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly value: string;
  readonly more: number;
  readonly style: CaseStyle;
}

export const valueCase = defineRule({
  id: 'value-case',
  title: 'Case style of values',
  why: 'Upper and lower case are told apart in values: “Drills” and “drills” are two groups.',
  example: { wrong: 'the values “Red” and “green”, where lower case is agreed', right: 'the values “red” and “green”' },
  severity: 'caution',
  message: (p: Params) => `The value “${p.value}” of \`${p.name}\`${p.more > 0 ? ` and ${p.more} more are` : ' is'} not in ${p.style}.`,
  fix: (p: Params) => `Write the values in ${p.style}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const style = settingsOf(plan).naming.valueCase;
    if (style === 'any') return;
    for (const [kind, list] of [
      ['property', liveProperties(plan)],
      ['userProperty', liveUserProperties(plan)],
    ] as const)
      for (const [id, p] of list) {
        if (p.type !== 'string' && p.type !== 'list of string') continue;
        const off = p.allowed.filter((v) => !keepsCase(v, style));
        if (off.length === 0) continue;
        const styled = (v: string) => (p.allowed.includes(v) ? toCase(v, style) : v);
        yield {
          path: [kind, id, 'allowed'],
          params: { name: refText(refOfProperty(p)), value: off[0]!, more: off.length - 1, style },
          fix: [
            { op: 'set', kind, id, field: 'allowed', before: p.allowed, after: [...new Set(p.allowed.map((v) => toCase(v, style)))] },
            ...(p.samples.some((s) => styled(s) !== s)
              ? [{ op: 'set', kind, id, field: 'samples', before: p.samples, after: p.samples.map(styled) } as const]
              : []),
          ],
        };
      }
  },
});
