/** Clearance: the gates of a question and the signal that they give. */
import type { Question } from '../plan/plan';
import { coverageOf } from '../questions/coverage';
import type { Clearance, ClearanceContext, Signal } from './gate';
import { GATES } from './gates/index';

/** The worst of the gates that are judged; only when all are judged and raised is the question clear. */
export const worstOf = (gates: readonly { readonly signal: Signal }[]): Signal =>
  gates.some((g) => g.signal === 'stop')
    ? 'stop'
    : gates.some((g) => g.signal === 'caution')
      ? 'caution'
      : gates.some((g) => g.signal === 'open')
        ? 'open'
        : 'clear';

/** The gates of a question, in their order, and the signal.
 *  Shape: those not judged are `open` with the reason. A question with judged gates all raised and others open is `open`, never
 *  `clear`: no gate is guessed.
 *  Source: Wilson interval for the conforming share (see stats/wilson); thresholds are the question's own.
 */
export const clearanceOf = (question: Question, c: ClearanceContext): Clearance => {
  const coverage = c.published ? coverageOf(c.published.plan, question) : undefined;
  const needs = coverage && coverage.state !== 'undefined' ? coverage.needs : [];
  const gates = GATES.map(({ id, asks, judge }) => ({ gate: id, asks, ...judge(question, needs, c) }));
  return { signal: worstOf(gates), gates };
};
