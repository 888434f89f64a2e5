import type { Property } from '../../plan/plan';
import { patternOf } from '../../plan/pattern';
import { hasFormat } from '../../plan/sample';
import { defineValueCheck, shown } from '../check';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface PatternMismatch {
  readonly property: PropertyRef;
  readonly value: string;
  /** What the plan asks for: a pattern, or a format's name. */
  readonly wanted: string;
  readonly by: 'pattern' | 'format';
}

export const patternMismatch = defineValueCheck({
  id: 'pattern-mismatch',
  on: 'value',
  title: 'Pattern or format not kept',
  why: 'A key that is written in two ways joins to nothing.',
  example: { wrong: '`"tool_id": "412"`, where the pattern is `T-\\d{4}`', right: '`"tool_id": "T-0412"`' },
  severity: 'caution',
  fixer: () => 'source',
  expected: (p: PatternMismatch) => `text of the ${p.by} ${p.wanted}`,
  received: (p: PatternMismatch) => shown(p.value),
  message: (p: PatternMismatch) =>
    `came with \`${refText(p.property)}\` = ${shown(p.value)}, which is not ${p.by === 'format' ? `of the format ${p.wanted}` : `of the pattern ${p.wanted}`}`,
  cause: () => 'The source sends the value as it has it, not as the plan wants it.',
  fix: (p: PatternMismatch) => `Send \`${refText(p.property)}\` as ${p.wanted}, or change the plan.`,
  compile(planned: Property) {
    const { type, pattern, format } = planned;
    const property = refOfProperty(planned);
    if (type !== 'string' || (pattern === '' && format === '')) return undefined;
    const compiled = patternOf(pattern);
    if (!compiled && format === '') return undefined;
    return (v): PatternMismatch | undefined => {
      if (typeof v !== 'string') return undefined;
      if (compiled && !compiled.test(v)) return { property, value: v.slice(0, 200), wanted: pattern, by: 'pattern' };
      if (format !== '' && !hasFormat(format, v)) return { property, value: v.slice(0, 200), wanted: format, by: 'format' };
      return undefined;
    };
  },
});
