/** Hand-off: documents for whoever builds, tickets sent to a tracker, and what was handed over. */
import { randomUUID } from 'node:crypto';
import { handOffDocument, handOver, setTracker, tracker } from '../core/api/hand-off';
import { htmlOf, markdownOf } from '../core/formats/blocks';
import { ticketMarkdown } from '../core/formats/event-ticket';
import { changesDocument, sourceDocument } from '../core/formats/source-document';
import { heldBackBy } from '../core/formats/ticket';
import { addHandOver, nameTracker, trackerOf } from '../db/hand-over-store';
import { problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { planFor } from './plan-for';
import { newestVersion } from './published';
import { serve } from './serve';
import { sendWebhook, webhookRefused } from './webhook';

/** An address out of what a tracker answers: `{"url": …}` or `{"address": …}`, which a person can open. */
const addressIn = (said: string): string => {
  try {
    const { url, address } = JSON.parse(said) as { url?: unknown; address?: unknown };
    const text = typeof url === 'string' ? url : typeof address === 'string' ? address : '';
    return /^https?:\/\/\S+$/.test(text) ? text.slice(0, 2000) : '';
  } catch {
    return '';
  }
};

export const HAND_OFF = [
  serve(tracker, async () => (await trackerOf(database())) ?? null),
  serve(setTracker, async ({ body: { address, author } }) => {
    const refused = address === '' ? undefined : webhookRefused(address);
    if (refused !== undefined) return problem(400, 'cannot be sent to', refused);
    await nameTracker(database(), address, author);
    return { ok: true as const };
  }),
  serve(handOver, async ({ body: { eventId, sourceId, address, send, author } }) => {
    const version = await newestVersion();
    const plan = version?.plan.event[eventId] ? version.plan : (await currentDraft()).plan;
    const event = plan.event[eventId];
    const source = plan.source[sourceId];
    if (!event || !source || !event.sources.some((s) => s.sourceId === sourceId))
      return problem(404, 'no such event', 'The plan has no such event on this source.');
    const held = heldBackBy(plan, event);
    if (held.length > 0)
      return problem(409, 'held back', `\`${event.name}\` is held back: ${held.join(', ')} missing. Complete it in the plan first.`);
    const planVersion = plan === version?.plan ? version.number : 0;
    let kept = address;
    if (send) {
      const to = await trackerOf(database());
      if (!to) return problem(409, 'no tracker', 'No tracker is named; enter its address under “Tracker”.');
      const ticket = {
        specversion: '1.0',
        id: randomUUID(),
        source: '/hand-off',
        type: 'signal-post.ticket',
        time: new Date().toISOString(),
        datacontenttype: 'application/json',
        data: {
          title: `${event.name} on ${source.name}`,
          text: ticketMarkdown(plan, eventId, sourceId),
          event: event.name,
          source: source.name,
          planVersion,
        },
      };
      const tried = await sendWebhook(to.address, to.secret, ticket.id, JSON.stringify(ticket));
      if (!tried.ok) return problem(502, 'not taken', `The tracker did not take the ticket. ${tried.error ?? ''}`);
      kept = addressIn(tried.said ?? '') || address;
    }
    await addHandOver(database(), { eventId, sourceId, planVersion, address: kept, author });
    return { address: kept };
  }),
  serve(handOffDocument, async ({ query: { source, from, version, format } }) => {
    const to = await planFor(version);
    if (to instanceof Response) return to;
    if (source !== undefined && !to.plan.source[source]) return problem(404, 'no such source', `The plan has no source “${source}”.`);
    const before = from === undefined ? undefined : await planFor(from);
    if (before instanceof Response) return before;
    if (!before && source === undefined) return problem(400, 'wrong shape', 'source: name a source, or a version in `from`.');
    const { title, blocks } = before ? changesDocument(before, to, source) : sourceDocument(to.plan, to.number, source!);
    const [text, type] =
      format === 'html' ? [htmlOf(title, blocks), 'text/html; charset=utf-8'] : [markdownOf(blocks), 'text/markdown; charset=utf-8'];
    const name = [source ?? 'changes', before ? `v${before.number}-` : '', to.number === 0 ? 'draft' : `v${to.number}`]
      .filter(Boolean)
      .join('-')
      .replaceAll(/[^\w.-]+/g, '-')
      .replaceAll('--', '-');
    return new Response(text, {
      headers: { 'content-type': type, 'content-disposition': `attachment; filename="${name}.${format}"`, 'cache-control': 'no-store' },
    });
  }),
];
