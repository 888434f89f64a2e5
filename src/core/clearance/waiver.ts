/** A gate that somebody answers for: for a question, with a reason, until a day. It then neither stops the question nor leaves it unjudged,
 *  but the question is never clear on that ground: it is a caution for as long as it is waived (decision 29).
 */
import type { Id } from '../plan/plan';
import type { Gate, GateId } from './gate';

export interface Waiver {
  readonly id: number;
  readonly questionId: Id;
  readonly gate: GateId;
  readonly reason: string;
  readonly author: string;
  /** UTC epoch ms, as all instants here. */
  readonly at: number;
  readonly until: number;
  /** When and why it was taken back; `null` where it was not. */
  readonly endedAt: number | null;
  readonly because: string | null;
}

export const isInForce = (w: Waiver, now: number): boolean => w.endedAt === null && w.at <= now && now < w.until;

/** Whether there is anything to answer for: a gate that is clear, or a caution, stops nobody. */
export const canBeWaived = (g: Gate): boolean => !g.waived && (g.signal === 'stop' || g.signal === 'open');

/** The gate as it counts under the waivers of its question. */
export const underWaivers = (gate: Gate, waivers: readonly Waiver[], now: number): Gate => {
  const w = canBeWaived(gate) ? waivers.find((x) => x.gate === gate.gate && isInForce(x, now)) : undefined;
  if (!w) return gate;
  const { author, reason, at, until } = w;
  return { ...gate, signal: 'caution', waived: { author, reason, at, until, from: gate.signal } };
};
