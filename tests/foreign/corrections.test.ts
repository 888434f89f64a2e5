/** The truth of a correction on workspaces drawn at random: a fault is put into one, and each figure as it would be is held against the figure of the same
 *  workspace without the fault.
 */
import { expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { bridgeOf, type Bridge } from '../../src/core/clearance/bridge';
import type { CorrectionId } from '../../src/core/clearance/correction-names';
import { blank } from '../../src/core/plan/defaults';
import type { Question } from '../../src/core/plan/plan';
import { MANY_FAULTS, MESSAGE_FAULTS, type Plant } from './faults';
import { formulasFor } from './formulas';
import { foreignWorkspace, type Foreign } from './workspace';
import { draws } from '../build/draws';

const SEEDS = Number(process.env['SEEDS'] ?? draws(2, 3));
const FIRST = 7000;

/** By how much a corrected figure may differ from the true one, of it. */
const FAULTS: readonly (readonly [CorrectionId, Plant, number])[] = [
  ['twins', MESSAGE_FAULTS['another case of the name'], 0],
  ['twice', MANY_FAULTS['double-fire'], 0.002],
  ['early', MANY_FAULTS['premature-trigger'], 0.02],
  ['clocks', MANY_FAULTS['clock-ahead'], 0.01],
  ['units', MANY_FAULTS['unit-suspicion'], 0],
];

const bridges = (w: Foreign, questions: readonly Question[], on: ReadonlySet<CorrectionId>): Bridge[] => {
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  return questions.map((q, i) => {
    const work = bridgeOf(w.plan, `q${i}`, q, persons, w.now, on);
    for (let next = work.next(); ; next = work.next()) if (next.done) return next.value;
  });
};

test.each(FAULTS)(
  '%s: of all figures that the fault distorts, nearly all are put right, and what it leaves alone stays as it was',
  (id, plant, within) => {
    let [distorted, held, left] = [0, 0, 0];
    for (let seed = FIRST; seed < FIRST + SEEDS; seed++) {
      const sound = foreignWorkspace(seed);
      const questions = formulasFor(sound).map((formula) => blank('question', { text: 'q', formula }));
      const { w } = plant(foreignWorkspace(seed), 1);
      const truth = bridges(sound, questions, new Set());
      const mended = bridges({ ...w, plan: w.plan }, questions, new Set([id]));
      for (const [i, m] of mended.entries()) {
        const whole = truth[i]!.asItArrived;
        const error = (v: number | undefined): number =>
          v === whole
            ? 0
            : v === undefined || whole === undefined
              ? Infinity
              : Math.abs(v - whole) / Math.max(Math.abs(whole), Number.EPSILON);
        const isDistorted = error(m.asItArrived) > Math.max(within, 1e-9);
        if (!isDistorted) {
          // A correction does not spoil what was right.
          if (error(m.asItWouldBe) > Math.max(within, 1e-9)) left++;
          continue;
        }
        distorted++;
        if (error(m.asItWouldBe) <= within + 1e-9) held++;
        else if (process.env['TRUTH']) console.log(id, seed, questions[i]!.formula!.type, whole, m.asItArrived, m.asItWouldBe);
      }
    }
    if (process.env['TRUTH']) console.log(`${id}: ${held} of ${distorted} distorted figures put right; ${left} spoilt`);
    expect(distorted).toBeGreaterThan(0);
    expect([id, held / distorted >= 0.95]).toEqual([id, true]);
    expect([id, left]).toEqual([id, 0]);
  },
);
