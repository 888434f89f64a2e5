/** What waits to be looked at again: events that are not there yet, findings that somebody left until a day, and fixed ones. */
import { settingsOf, type Plan } from '../plan/plan';
import type { ArrivalMatrix } from './matrix';
import { HOUR_MS } from '../time';
import type { TriagedFinding } from './triage';

export const FOLLOW_UP_STATES = ['due', 'too early', 'waiting', 'passed'] as const;
export type FollowUpState = (typeof FOLLOW_UP_STATES)[number];

export interface FollowUp {
  readonly key: string;
  readonly why: 'not seen yet' | 'acknowledged' | 'fixed';
  readonly state: FollowUpState;
  readonly eventName: string;
  readonly sourceId: string;
  /** What is looked for, or what somebody said. */
  readonly text: string;
  /** UTC epoch ms: when the wait began, and when it ends or ended. */
  readonly from: number;
  readonly due: number;
  /** Key of the finding, where there is one. */
  readonly finding: string | undefined;
}

/** The list: what is due first, then by the end of the wait; what has passed stays, newest first.
 *  Units: UTC epoch ms. A wait for an event that came has passed only where a
 *  finding says so; otherwise it is not listed.
 */
export const followUpsOf = (
  plan: Plan,
  { rows }: Pick<ArrivalMatrix, 'rows'>,
  findings: readonly TriagedFinding[],
  now: number,
): FollowUp[] => {
  const { settlingHours } = settingsOf(plan);
  const out: FollowUp[] = [];
  for (const r of rows) {
    if (!r.wait || (r.state !== 'too early' && r.state !== 'waiting' && r.state !== 'never')) continue;
    out.push({
      key: JSON.stringify(['wait', r.eventName, r.sourceId]),
      why: 'not seen yet',
      state: r.state === 'never' ? 'due' : r.state,
      eventName: r.eventName,
      sourceId: r.sourceId,
      text: 'It was planned and built, and has not come.',
      from: r.wait.since,
      due: r.wait.due,
      finding: findings.find((f) => f.code === 'never-seen' && f.eventName === r.eventName && f.sourceId === r.sourceId)?.key,
    });
  }
  for (const f of findings) {
    const a = f.acknowledgement;
    const common = { eventName: f.eventName, sourceId: f.sourceId, finding: f.key };
    if (f.state === 'fixed')
      out.push({
        ...common,
        key: `fixed ${f.key}`,
        why: 'fixed',
        state: 'passed',
        text: f.sentence,
        from: f.lastAt,
        due: f.lastAt + settlingHours * HOUR_MS,
      });
    else if (a)
      out.push({
        ...common,
        key: `left ${f.key}`,
        why: 'acknowledged',
        state: a.until <= now ? 'due' : 'waiting',
        text: a.reason,
        from: a.at,
        due: a.until,
      });
  }
  const order = (r: FollowUp): number => (r.state === 'due' ? 0 : r.state === 'passed' ? 2 : 1);
  return out.sort((a, b) => order(a) - order(b) || (order(a) === 1 ? a.due - b.due : b.due - a.due) || (a.key < b.key ? -1 : 1));
};
