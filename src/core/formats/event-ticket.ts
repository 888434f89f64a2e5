/** The ticket of an event: everything that whoever builds it needs, as Markdown. */
import type { Id, Plan } from '../plan/plan';
import { situationsOf } from '../identity/situation';
import { heading, markdownOf, name, para, table, type Block } from './blocks';
import { eventBlocks } from './source-document';

/** The ticket for one event and one source.
 *  Shape: trigger, properties, what must not cause it, identifiers by situation, a sample message and an acceptance test.
 */
export const ticketBlocks = (plan: Plan, eventId: Id, sourceId: Id | undefined): Block[] => {
  if (!plan.event[eventId]) throw new Error(`no event ${eventId}`);
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const identifiers: Block[] = source
    ? [
        heading(2, 'Identifiers'),
        table(
          ['situation', 'must carry'],
          situationsOf(plan, source).map((c) => [c.situation, c.expected.map(name).join(', ') || 'none']),
        ),
      ]
    : [heading(2, 'Identifiers'), para('As the source carries them.')];
  const blocks = eventBlocks(plan, eventId, source, 1);
  const at = blocks.findIndex((b) => b.is === 'heading' && b.text === 'Sample message');
  return [...blocks.slice(0, at), ...identifiers, ...blocks.slice(at)];
};

/** The same as Markdown. */
export const ticketMarkdown = (plan: Plan, eventId: Id, sourceId: Id | undefined): string =>
  markdownOf(ticketBlocks(plan, eventId, sourceId));
