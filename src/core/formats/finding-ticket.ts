/** The text of a ticket for a finding: what an engineer needs to fix it, and how it is known to be fixed. */
import { maskedDeep } from '../arrival/excerpt';
import type { FindingGroup } from '../arrival/finding-group';
import { masked } from '../arrival/personal-data';
import { whoFixes } from '../arrival/who-fixes';
import { type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';

const day = (ms: number): string => new Date(ms).toISOString().slice(0, 10);

/** A finding as Markdown.
 *  Shape: headed by the sentence of the finding; samples are the messages' bodies, as many as are given, newest first. Personal data is
 *  replaced by what it is, in samples and sentences: a ticket goes to another system.
 *  Units: days in UTC. Source: own format; CommonMark 0.31 for the fences.
 */
export const findingTicket = (plan: Plan, g: FindingGroup, samples: readonly unknown[], questions: readonly string[]): string => {
  const source = plan.source[g.sourceId];
  const event = g.eventName === '' ? undefined : eventNamed(plan, g.eventName)?.[1];
  const releases = g.releases.filter(Boolean);
  const share = g.outOf > 0 ? ` (${((g.count / g.outOf) * 100).toFixed(1)} %)` : '';
  const lines = [
    `## ${masked(g.sentence)}`,
    '',
    `- **Where:** ${source?.name ?? g.sourceId}${releases.length > 0 ? `, release ${releases.map((r) => `\`${r}\``).join(', ')}` : ''}`,
    ...(Number.isFinite(g.firstAt) ? [`- **Since:** ${day(g.firstAt)}, last on ${day(g.lastAt)}`] : []),
    ...(g.count > 0 ? [`- **How many:** ${g.count} of ${g.outOf} messages${share}`] : []),
    `- **Expected:** ${masked(g.expected)}`,
    `- **Received:** ${masked(g.received)}`,
    `- **Cause:** ${masked(g.cause)}`,
    `- **Fix:** ${masked(g.fix)}`,
    `- **Who:** ${whoFixes(plan, g)}`,
    ...(event && event.trigger !== '' ? [`- **Plan:** ${event.trigger}`] : []),
    ...(questions.length > 0 ? ['- **Distorts:**', ...questions.map((q) => `  - ${q}`)] : []),
    '',
    `Fixed when messages of ${g.eventName === '' ? 'this source' : `\`${g.eventName}\``} keep arriving without it; the finding then closes automatically.`,
  ];
  // A fence longer than any in the text within.
  const fenced = (text: string): string[] => {
    const fence = '`'.repeat(Math.max(3, ...[...text.matchAll(/`+/g)].map((m) => m[0].length + 1)));
    return ['', `${fence}json`, text, fence];
  };
  return [
    ...lines,
    ...(samples.length > 0 ? ['', '**Examples**', ...samples.flatMap((s) => fenced(JSON.stringify(maskedDeep(s), null, 2)))] : []),
  ].join('\n');
};
