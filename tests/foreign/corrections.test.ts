/** The truth of a correction on workspaces drawn at random: a fault is put into one, and each figure as it would be is held against the figure of the same
 *  workspace without the fault.
 */
import { expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { bridgeOf, type Bridge } from '../../src/core/clearance/bridge';
import { CORRECTIONS, type CorrectionId } from '../../src/core/clearance/correction-names';
import { correctable, corrected, countsOf } from '../../src/core/clearance/corrections';
import type { Persons } from '../../src/core/identity/persons';
import type { Resolved } from '../../src/core/identity/persons-otherwise';
import { blank } from '../../src/core/plan/defaults';
import { SETTINGS_ID, settingsOf, type Question } from '../../src/core/plan/plan';
import { putAt as setAt, refKey, valueAt } from '../../src/core/plan/property-path';
import { figureOf } from '../../src/core/questions/compute-figure';
import { typedFormula } from '../../src/core/questions/typed-conditions';
import { figureContext } from '../../src/core/scenario/figure-context';
import { MANY_FAULTS, MESSAGE_FAULTS, type Plant } from './faults';
import { formulasFor, rounded, told } from './formulas';
import { foreignWorkspace, type Foreign, type Sent } from './workspace';
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

/** What a correction says of each message, said by the messages themselves. */
const asIfSentSo = (w: Foreign, persons: Persons, found: ReturnType<typeof correctable>, on: ReadonlySet<CorrectionId>): Foreign => {
  const { table } = persons;
  const messages = Array.from({ length: table.length }, (_, row) => row).flatMap((row): Sent[] => {
    if ((on.has('early') && found.early.has(row)) || (on.has('twice') && found.twice.has(row))) return [];
    const m = structuredClone(w.messages[table.seq.get(row) - 1]!);
    const ahead = found.clocks.get(row);
    if (on.has('clocks') && ahead !== undefined) m.value.time = new Date(table.time.get(row) - ahead).toISOString();
    const present = on.has('twins') ? found.twins.get(m.value.name ?? '') : undefined;
    if (present !== undefined) m.value.name = present;
    if (on.has('units'))
      for (const [key, factors] of found.units) {
        const ref = [...table.properties.keys()].find((r) => refKey(r) === key)!;
        const sent = valueAt(m.value.properties, ref);
        if (factors.has(row) && typeof sent === 'number') setAt(m.value.properties, ref, sent / factors.get(row)!);
      }
    return [m];
  });
  const settings = settingsOf(w.plan);
  const links = on.has('links') ? [...settings.identity.links, ...found.links.pairs] : settings.identity.links;
  return { ...w, messages, plan: { ...w.plan, settings: { ...w.plan.settings, [SETTINGS_ID]: { ...settings, identity: { ...settings.identity, links } } } } };
}; // prettier-ignore

test('with several faults at once, each step gives the figure of messages that had been sent so', () => {
  let [steps, people] = [0, 0];
  for (let seed = FIRST; seed < FIRST + SEEDS; seed++) {
    const drawn = foreignWorkspace(seed, 60);
    const questions = formulasFor(drawn);
    const w = FAULTS.reduce((all, [, plant]) => plant(all, 0.4).w, drawn);
    // Where a kind is not linked yet, it can be.
    const settings = settingsOf(w.plan);
    const loose: Foreign = { ...w, plan: { ...w.plan, settings: { ...w.plan.settings, [SETTINGS_ID]: { ...settings, identity: { ...settings.identity, links: settings.identity.links.slice(1) } } } } }; // prettier-ignore
    const { persons } = judgeHistory(loose.plan, loose.messages, w.now, w.from);
    const names = new Set(Object.values(w.plan.event).map((e) => e.name));
    const found = correctable(loose.plan, persons, names, w.now);
    const on = new Set<CorrectionId>();
    for (const { id } of CORRECTIONS) {
      if (countsOf(persons.table, found)[id] === 0) continue;
      on.add(id);
      steps++;
      const by = corrected(loose.plan, persons, found, on);
      const so = asIfSentSo(loose, persons, found, on);
      const fresh = judgeHistory(so.plan, so.messages, w.now, w.from).persons;
      people += Math.abs(fresh.count - persons.count);
      for (const formula of questions) {
        const said = (plan: typeof w.plan, who: Resolved): unknown => rounded(told(figureOf(typedFormula(plan, formula).formula, figureContext(plan, who, w.now)))); // prettier-ignore
        expect([seed, [...on], formula.type, said(by.plan, by.persons)]).toEqual([seed, [...on], formula.type, said(so.plan, fresh)]);
      }
    }
  }
  expect(steps).toBeGreaterThanOrEqual(SEEDS * 4);
  expect(people).toBeGreaterThan(0);
});
