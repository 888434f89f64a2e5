/** Hand-off: documents for whoever builds, tickets sent to a tracker, and what was handed over. */
import { randomUUID } from 'node:crypto';
import { handOffDocument, handOver, setTracker, tracker } from '../core/api/hand-off';
import { htmlOf, markdownOf } from '../core/formats/blocks';
import { ticketMarkdown } from '../core/formats/event-ticket';
import { changesDocument, sourceDocument } from '../core/formats/source-document';
import { heldBackBy } from '../core/formats/ticket';
import { sameValue } from '../core/plan/edit';
import { entityOf, entries, isLive } from '../core/plan/plan';
import { addHandOver, nameTracker, trackerOf } from '../db/hand-over-store';
import { problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { planFor } from './plan-for';
import { newestVersion } from './published';
import { serve } from './serve';
import { sendWebhook, webhookRefusedNow } from './webhook';

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

/** Sends a ticket to the tracker; the address that it answers, empty where it answers none. */
const sendTicket = async (data: object): Promise<string | Response> => {
  const to = await trackerOf(database());
  if (!to) return problem(409, 'no tracker', 'No tracker is named; enter its address under “Tracker”.');
  const id = randomUUID();
  const event = {
    specversion: '1.0',
    id,
    source: '/hand-off',
    type: 'signal-post.ticket',
    time: new Date().toISOString(),
    datacontenttype: 'application/json',
    data,
  };
  const tried = await sendWebhook(to.address, to.secret, id, JSON.stringify(event));
  return tried.ok ? addressIn(tried.said ?? '') : problem(502, 'not taken', `The tracker did not take the ticket. ${tried.error ?? ''}`);
};

export const HAND_OFF = [
  serve(tracker, async () => (await trackerOf(database())) ?? null),
  serve(setTracker, async ({ body: { address, author } }) => {
    const refused = address === '' ? undefined : await webhookRefusedNow(address);
    if (refused !== undefined) return problem(400, 'cannot be sent to', refused);
    await nameTracker(database(), address, author);
    return { ok: true as const };
  }),
  serve(handOver, async ({ body: { eventId, sourceId, from, address, send, author } }) => {
    const version = await newestVersion();
    const draft = (await currentDraft()).plan;
    const plan = version && (eventId === undefined || entityOf(version.plan, 'event', eventId)) ? version.plan : draft;
    const source = entityOf(plan, 'source', sourceId);
    if (!source) return problem(404, 'no such source', `The plan has no source “${sourceId}”.`);
    const planVersion = plan === version?.plan ? version.number : 0;
    const all = entries(plan, 'event').filter(
      ([, e]) => isLive(e) && e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired'),
    );
    let chosen = all.filter(([id, e]) => (eventId === undefined ? heldBackBy(plan, e).length === 0 : id === eventId));
    if (eventId !== undefined && chosen.length === 0) return problem(404, 'no such event', 'The plan has no such event on this source.');
    const [first] = chosen;
    const held = eventId !== undefined && first ? heldBackBy(plan, first[1]) : [];
    if (held.length > 0)
      return problem(409, 'held back', `\`${first![1].name}\` is held back: ${held.join(', ')} missing. Complete it in the plan first.`);
    if (chosen.length === 0) return problem(409, 'nothing ready', `Nothing at ${source.name} is ready to be handed over.`);
    let ticket = { title: `${first![1].name} on ${source.name}`, text: '' };
    if (from !== undefined) {
      const before = await planFor(String(from));
      if (before instanceof Response) return before;
      const changes = changesDocument(before, { plan, number: planVersion }, sourceId);
      ticket = { title: changes.title, text: markdownOf(changes.blocks) };
      chosen = chosen.filter(([id, e]) => !sameValue(before.plan.event[id], e));
    } else if (eventId === undefined) {
      const whole = sourceDocument(plan, planVersion, sourceId);
      ticket = { title: whole.title, text: markdownOf(whole.blocks) };
    } else ticket.text = ticketMarkdown(plan, eventId, sourceId);
    let kept = address;
    if (send) {
      const sent = await sendTicket({ ...ticket, events: chosen.map(([, e]) => e.name), source: source.name, planVersion });
      if (sent instanceof Response) return sent;
      kept = sent || address;
    }
    for (const [id] of chosen) await addHandOver(database(), { eventId: id, sourceId, planVersion, address: kept, author });
    return { address: kept, events: chosen.length };
  }),
  serve(handOffDocument, async ({ query: { source, from, version, format } }) => {
    const to = await planFor(version);
    if (to instanceof Response) return to;
    if (source !== undefined && !entityOf(to.plan, 'source', source))
      return problem(404, 'no such source', `The plan has no source “${source}”.`);
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
