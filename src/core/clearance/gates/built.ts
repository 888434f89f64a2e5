import { rawNeeds } from '../../definitions/planned';
import { sourcesOf } from '../../arrival/seen';
import { waitFor, waitSince, type Wait } from '../../arrival/waiting';
import { settingsOf } from '../../plan/plan';
import { eventNamed } from '../../plan/plan-index';
import { defineGate, thousands } from '../gate';

export const built = defineGate({
  id: 'built',
  asks: 'Has each required source sent each event?',
  judge(_, needs, c) {
    if (!c.published || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    const { plan, publishedAt, watch } = c.published;
    const missing: string[] = [];
    const seen: string[] = [];
    const waits: Wait[] = [];
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
        if (counts.has(s.sourceId)) continue;
        missing.push(`${name} has never sent \`${need.eventName}\``);
        waits.push(waitFor({ plan, table: c.table, watch, now: c.now }, eventId, s.sourceId) ?? waitSince(plan, publishedAt, c.now));
      }
      for (const [sourceId, n] of counts)
        seen.push(`${plan.source[sourceId]?.name ?? sourceId} ${thousands(n.messages)} × \`${need.eventName}\``);
    }
    if (missing.length === 0)
      return {
        signal: 'clear',
        brief: 'Every required source has sent each event',
        evidence: `Every required source has sent: ${seen.join(', ')}.`,
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
