/** The hand-off of an event: a ticket's text, a snippet, and what still holds it back. */
import { propertiesOf, type Id, type Plan, type PlanEvent, type PlannedProperty, type Property, type Source } from '../plan/plan';
import { isNumeric } from '../plan/property-type';
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

/** The first sample of a property as a JSON value. */
export const sampleValue = (p: Property): unknown => {
  const sample = p.samples[0] ?? p.allowed[0] ?? '';
  if (p.type.startsWith('list of ')) return p.samples.slice(0, 2);
  if (isNumeric(p.type)) return Number(sample || 0);
  if (p.type === 'boolean') return sample !== 'false';
  if (p.type === 'object') return {};
  return sample;
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

const cell = (s: string): string => s.replaceAll('|', '\\|').replaceAll('\n', ' ');

/** Type, unit, list and range of a property in a few words. */
export const constraintText = (p: Property): string =>
  [
    p.type,
    p.unit,
    p.allowed.length > 0 ? `one of ${p.allowed.join(', ')}` : '',
    p.min !== undefined || p.max !== undefined ? `${p.min ?? '…'} to ${p.max ?? '…'}` : '',
  ]
    .filter(Boolean)
    .join('; ');

const confirmation = (e: PlanEvent): string[] =>
  e.counterpart
    ? [
        '',
        `It must be confirmed by \`${e.counterpart.eventName}\` with the same \`${refText(e.counterpart.keyProperty)}\` within ${e.counterpart.windowMs / 1000} s.`,
      ]
    : [];

/** The ticket for one event and one source, as Markdown.
 *  Shape: trigger, properties, identifiers, a sample message and an acceptance test; ends with a line feed.
 */
export const ticketMarkdown = (plan: Plan, eventId: Id, sourceId: Id | undefined): string => {
  const event = plan.event[eventId];
  if (!event) throw new Error(`no event ${eventId}`);
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const planned = propertiesOf(plan, event);
  const lines = [
    `# ${event.name}${source ? ` on ${source.name}` : ''}`,
    '',
    event.description,
    '',
    `**When it fires.** ${event.trigger || 'Not written down yet.'}`,
    ...confirmation(event),
    '',
    '## Properties',
    '',
    ...(planned.length === 0
      ? ['None.']
      : [
          '| name | required | type | meaning | samples |',
          '|---|---|---|---|---|',
          ...planned.map(
            ({ property: p, required }) =>
              `| \`${refText(refOfProperty(p))}\` | ${required ? 'yes' : 'no'} | ${cell(constraintText(p))} | ${cell(p.description)} | ${cell(p.samples.map((s) => `\`${s}\``).join(', '))} |`,
          ),
        ]),
    '',
    '## Identifiers',
    '',
    source
      ? `Before sign-in: ${source.idKinds.beforeSignIn.map((k) => `\`${k}\``).join(', ') || 'none'}. After sign-in: ${source.idKinds.afterSignIn.map((k) => `\`${k}\``).join(', ') || 'none'}.`
      : 'As the source carries them.',
    '',
    '## Sample message',
    '',
    'Everything in double braces must be replaced; a message that still holds one is reported.',
    '',
    '```json',
    JSON.stringify(sampleMessage(plan, event, source), null, 2),
    '```',
    '',
    '## Accepted when',
    '',
    `1. The action, done once, causes exactly one \`${event.name}\`.`,
    `2. ${event.triggerKind === 'completed' ? 'The action, attempted and refused, causes none.' : 'Looking at another page causes none.'}`,
    `3. The message arrives without a finding${source ? ` from ${source.name}` : ''}.`,
    ...(event.owner ? ['', `Ask ${event.owner} about it.`] : []),
  ];
  return `${lines.join('\n')}\n`;
};
