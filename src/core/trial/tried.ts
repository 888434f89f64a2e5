/** What a run shows, and what it takes back. */
import type { Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { TrialMessage } from './run';
import type { Misfit, StepVerdict, Tried, TrialVerdict } from './verdict-shape';

/** What a run shows of each event on each source and release.
 *  Shape: verified where it came in a step that passed, and in none that did not, unless the action caused it before anything was built: then nobody knows
 *  what its coming shows. Refuted where a message of it was not as it must be; where one is missing, in the releases in which its source sent
 *  something else to the tester meanwhile: whether it would have come from any other is not known.
 */
export const triedBy = (
  plan: Plan,
  steps: readonly StepVerdict[],
  messages: readonly TrialMessage[],
  baseline: TrialVerdict['baseline'],
): Pick<TrialVerdict, 'verified' | 'refuted'> => {
  const good = new Map<string, Tried>();
  const bad = new Map<string, Tried>();
  const doubted = new Set(baseline?.misfits.map((m) => m.event));
  const note = (of: Map<string, Tried>, event: string, { sourceId, release }: TrialMessage): void => {
    of.set(JSON.stringify([event, sourceId, release]), { event, sourceId, release });
  };
  const bySeq = new Map(messages.map((m) => [m.seq, m]));
  const refute = (m: Misfit): void => {
    doubted.add(m.event);
    // Nobody knows whose fault it is that nothing was remembered.
    if (m.what !== 'nothing remembered') for (const seq of m.seqs ?? []) if (bySeq.has(seq)) note(bad, m.event, bySeq.get(seq)!);
  };
  for (const s of steps) {
    for (const { expected, messages: came, misfits } of s.expected) {
      misfits.forEach(refute);
      if (misfits.length > 0 || s.state === 'failed' || s.state === 'gap') doubted.add(expected.event);
      else if (s.state === 'passed') for (const m of came) note(good, expected.event, m);
      if (!misfits.some((m) => m.what === 'missing')) continue;
      const event = eventNamed(plan, expected.event)?.[1];
      const asked = expected.sources.length > 0 ? expected.sources : (event?.sources.map((x) => x.sourceId) ?? []);
      for (const m of messages) if (asked.includes(m.sourceId) && m.receivedAt >= s.from!) note(bad, expected.event, m);
    }
    s.forbidden.forEach(refute);
  }
  return { verified: [...good.values()].filter((v) => !doubted.has(v.event)), refuted: [...bad.values()] };
};
