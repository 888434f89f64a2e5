/** Clearance: the gates of a question and the signal that they give. */
import { DEFAULT_SETTINGS } from '../plan/defaults';
import { emptyPlan, type Question } from '../plan/plan';
import { coverageOf } from '../questions/coverage';
import type { Clearance, ClearanceContext, Signal } from './gate';
import { GATES } from './gates/index';
import { workspaceThresholds } from './thresholds';
import { underWaivers, type Waiver } from './waiver';

/** Before anything is published no gate is judged by them. */
const EMPTY = emptyPlan(DEFAULT_SETTINGS);

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
 *  `clear`: no gate is guessed. `waivers` are those of the question; whether one is in force is seen here.
 *  Source: Wilson interval for the conforming share (see stats/wilson); thresholds are the question's own or the workspace's.
 */
export const clearanceOf = (question: Question, c: ClearanceContext, waivers: readonly Waiver[] = []): Clearance => {
  const coverage = c.published ? coverageOf(c.published.plan, question) : undefined;
  const needs = coverage && coverage.state !== 'undefined' ? coverage.needs : [];
  const judged = { ...question, thresholds: question.thresholds ?? workspaceThresholds(c.published?.plan ?? EMPTY) };
  const gates = GATES.map(({ id, asks, judge }) => underWaivers({ gate: id, asks, ...judge(judged, needs, c) }, waivers, c.now));
  return { signal: worstOf(gates), gates };
};
