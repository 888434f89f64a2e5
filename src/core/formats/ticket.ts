/** The hand-off of an event: a ticket's text, a snippet, and what still holds it back. */
import { propertiesOf, type Plan, type PlanEvent, type PlannedProperty, type Property, type Source } from '../plan/plan';
import { isNumeric } from '../plan/property-type';
import { misfitOf } from '../plan/sample';
import { putAt, refOfProperty, refText } from '../plan/property-path';

/** What must be filled in before engineers can build it; empty when it can be handed off. */
export const heldBackBy = (plan: Plan, event: PlanEvent, planned: readonly PlannedProperty[] = propertiesOf(plan, event)): string[] => {
  const out: string[] = [];
  if (event.trigger.trim() === '') out.push('trigger');
  if (event.description.trim() === '') out.push('description');
  if (event.sources.length === 0) out.push('source');
  for (const { property: p } of planned) {
    if (isNumeric(p.type) && p.unit === '') out.push(`unit of \`${refText(refOfProperty(p))}\``);
    if (p.samples.length < 2) out.push(`samples of \`${refText(refOfProperty(p))}\``);
  }
  return out;
};

/** The first sample of a property that fits its own definition, as a JSON value.
 *  Shape: where none does, an allowed value, or a number within the range; where a pattern is all that is known, what must be put there: whoever copies a
 *  sample sends what the checks accept.
 */
export const sampleValue = (p: Property): unknown => {
  const fitting = [...p.samples.filter((s) => misfitOf(p, s) === undefined), ...p.allowed];
  const [sample] = fitting;
  if (p.type.startsWith('list of ')) return fitting.slice(0, 2);
  if (isNumeric(p.type)) return sample === undefined ? (p.min ?? (p.max !== undefined && p.max < 0 ? p.max : 0)) : Number(sample);
  if (p.type === 'boolean') return sample !== 'false';
  if (p.type === 'object') return {};
  return sample ?? (p.pattern !== '' || p.format !== '' ? `{{${p.name}}}` : (p.samples[0] ?? ''));
};

/** The properties of an event out of the samples. */
export const sampleProperties = (plan: Plan, event: PlanEvent): Record<string, unknown> => {
  const planned = propertiesOf(plan, event);
  const out: Record<string, unknown> = {};
  // What objects hold comes after them.
  const byDepth = [...planned].sort((a, b) => (a.property.within?.length ?? 0) - (b.property.within?.length ?? 0));
  for (const { property } of byDepth) putAt(out, refOfProperty(property), sampleValue(property));
  return out;
};

/** Identifiers that a source is expected to carry, each with what must be put there: a text that can never pass for a value. */
export const expectedIds = (source: Source | undefined): Record<string, string> =>
  Object.fromEntries((source?.idKinds.afterSignIn ?? []).map((k) => [k, `{{${k}_id}}`]));

/** A message of this event as JSON, with samples; what the sender must fill in is in double braces, which the checks refuse. */
export const sampleMessage = (plan: Plan, event: PlanEvent, source: Source | undefined): Record<string, unknown> => ({
  id: '{{message_id}}',
  name: event.name,
  time: '{{time}}',
  ids: expectedIds(source),
  properties: sampleProperties(plan, event),
  release: '{{release}}',
});

/** Type, unit, list, range, pattern and format of a property in a few words. */
export const constraintText = (p: Property): string =>
  [
    p.type,
    p.unit,
    p.allowed.length > 0 ? `one of ${p.allowed.join(', ')}` : '',
    p.min !== undefined || p.max !== undefined ? `${p.min ?? '…'} to ${p.max ?? '…'}` : '',
    p.pattern === '' ? '' : `matches ${p.pattern}`,
    p.format === '' ? '' : `format ${p.format}`,
  ]
    .filter(Boolean)
    .join('; ');
