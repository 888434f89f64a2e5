import type { Property } from '../../plan/plan';
import { defineValueCheck } from '../check';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface OutOfRange {
  readonly property: PropertyRef;
  readonly value: number;
  readonly min: number | undefined;
  readonly max: number | undefined;
  readonly unit: string;
}

const rangeText = (p: OutOfRange): string => {
  const unit = p.unit === '' ? '' : ` ${p.unit}`;
  if (p.min !== undefined && p.max !== undefined) return `${p.min} to ${p.max}${unit}`;
  return p.min !== undefined ? `at least ${p.min}${unit}` : `at most ${p.max}${unit}`;
};

export const outOfRange = defineValueCheck({
  id: 'out-of-range',
  on: 'value',
  title: 'Value out of range',
  why: 'One value in another unit moves a mean further than a thousand right ones hold it.',
  example: { wrong: '`"deposit": 5000`, where the range is 0 to 500', right: '`"deposit": 50`' },
  severity: 'stop',
  fixer: () => 'source',
  expected: (p: OutOfRange) => rangeText(p),
  received: (p: OutOfRange) => String(p.value),
  message: (p: OutOfRange) => `came with \`${refText(p.property)}\` = ${p.value} where the plan allows ${rangeText(p)}`,
  cause: (p: OutOfRange) =>
    p.unit === '' ? 'The value is not limited at the source.' : 'Very likely another unit than the plan’s is sent.',
  fix: (p: OutOfRange) => `Send \`${refText(p.property)}\` within ${rangeText(p)}, or widen the range in the plan.`,
  compile(planned: Property) {
    const { min, max, unit } = planned;
    const property = refOfProperty(planned);
    if (min === undefined && max === undefined) return undefined;
    const low = min ?? -Infinity;
    const high = max ?? Infinity;
    return (v): OutOfRange | undefined =>
      typeof v !== 'number' || (v >= low && v <= high) ? undefined : { property, value: v, min, max, unit };
  },
});
