import { rawNeeds } from '../../definitions/planned';
import { sourcesOf } from '../../arrival/seen';
import { waitFor, waitSince, type Wait } from '../../arrival/waiting';
import { settingsOf } from '../../plan/plan';
import { eventNamed } from '../../plan/plan-index';
import { refText, type PropertyRef } from '../../plan/property-path';
import type { MessageTable } from '../../table/message-table';
import { defineGate, span, thousands, type GateNumber } from '../gate';
import { releasesWithout } from '../releases';

/** Where so many are expected, none at all is chance once in 500 million: by Poisson, e⁻²⁰; what is sent in bursts is given that much room. */
const SURPRISING = 20;

/** Whether none of the messages of an event carries a property, though some came. */
const isNeverSent = (table: MessageTable, eventName: string, ref: PropertyRef): boolean => {
  const rows = table.rowsOf(eventName);
  if (rows.length === 0) return false;
  const column = table.properties.get(ref)?.column;
  if (!column) return true;
  for (let i = rows.length - 1; i >= 0; i--) if (column.get(rows[i]!) >= 0) return false;
  return true;
};

export const built = defineGate({
  id: 'built',
  asks: 'Has each required source, in each release in use, sent each event and property?',
  judge(_, needs, c) {
    if (!c.published || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    const { plan, publishedAt, watch } = c.published;
    const missing: string[] = [];
    const seen: string[] = [];
    const waits: Wait[] = [];
    const without: string[] = [];
    const waiting: GateNumber[] = [];
    for (const need of needs.flatMap((n) => rawNeeds(plan, n.eventName))) {
      const [eventId = '', event] = eventNamed(plan, need.eventName) ?? [];
      const counts = sourcesOf(c.table, event?.name ?? need.eventName);
      const required = event?.sources.filter((s) => s.required && s.build !== 'retired') ?? [];
      if (required.length === 0 && counts.size === 0) {
        missing.push(`nobody has sent \`${need.eventName}\``);
        waits.push(waitSince(plan, publishedAt, c.now));
      }
      for (const s of required) {
        const name = plan.source[s.sourceId]?.name ?? s.sourceId;
        if (counts.has(s.sourceId)) {
          for (const r of releasesWithout(c.table, event!.name, s.sourceId, c.now)) {
            if (r.expected >= SURPRISING)
              without.push(
                `release ${r.release} of ${name} has sent ${thousands(r.messages)} messages and none of \`${need.eventName}\`, where about ${thousands(Math.round(r.expected))} are usual`,
              );
            else
              waiting.push({
                what: `release ${r.release} of ${name}`,
                value: `waits for ${need.eventName} for ${span(r.ageMs)}; the first usually comes after ${span(r.usualMs)}`,
              });
          }
          continue;
        }
        missing.push(`${name} has never sent \`${need.eventName}\``);
        waits.push(waitFor({ plan, table: c.table, watch, now: c.now }, eventId, s.sourceId) ?? waitSince(plan, publishedAt, c.now));
      }
      for (const [sourceId, n] of counts)
        seen.push(`${plan.source[sourceId]?.name ?? sourceId} ${thousands(n.messages)} × \`${need.eventName}\``);
    }
    for (const need of needs)
      for (const p of need.properties)
        if (isNeverSent(c.table, need.eventName, p.name)) without.push(`\`${need.eventName}\` has never come with \`${refText(p.name)}\``);
    if (missing.length === 0 && without.length > 0) {
      const [first = '', ...more] = without;
      return {
        signal: 'caution',
        brief: without.length === 1 ? 'A release or a property is missing' : `${without.length} releases or properties are missing`,
        evidence: `${first[0]!.toUpperCase()}${first.slice(1)}${more.length > 0 ? `, and ${more.length} more` : ''}.`,
        numbers: waiting,
        raise: [{ who: 'whoever releases it', text: 'Look whether the event is still sent, and with all that the plan asks.' }],
      };
    }
    if (missing.length === 0)
      return {
        signal: 'clear',
        brief: 'Every required source has sent each event',
        evidence: `Every required source has sent: ${seen.join(', ')}.`,
        ...(waiting.length > 0 ? { numbers: waiting } : {}),
      };
    const first = missing[0]!;
    const sentence = `${first[0]!.toUpperCase()}${first.slice(1)}${missing.length > 1 ? `, and ${missing.length - 1} more` : ''}`;
    const brief =
      missing.length === 1 ? 'One event has not come as the plan says' : `${missing.length} events have not come as the plan says`;
    if (!waits.some((w) => w.state === 'fault'))
      return {
        signal: 'open',
        brief,
        evidence: `${sentence}; too soon to judge until ${settingsOf(plan).escalationHours} hours are over.`,
      };
    return { signal: 'stop', brief, evidence: `${sentence}.` };
  },
});
