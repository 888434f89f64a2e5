import { defineMessageCheck } from '../check';
import { refText, type PropertyRef } from '../../plan/property-path';

export interface PropertyMissing {
  readonly property: PropertyRef;
}

export const propertyMissing = defineMessageCheck({
  id: 'property-missing',
  on: 'missing property',
  title: 'Required property missing',
  why: 'Messages without it drop out of every figure that filters or groups by it.',
  example: { wrong: '`Tool Viewed` without the required `tool_id`', right: '`Tool Viewed` with `"tool_id": "T-0412"`' },
  severity: 'stop',
  fixer: () => 'source',
  expected: (p: PropertyMissing) => `\`${refText(p.property)}\` with every message`,
  received: () => 'nothing',
  message: (p: PropertyMissing) => `came without \`${refText(p.property)}\`, which is required`,
  cause: () => 'The event fires before the value is known, or the release does not send it.',
  fix: (p: PropertyMissing) => `Send \`${refText(p.property)}\` with every message, or mark it optional in the plan.`,
  compile: () => (property) => ({ property }),
});
