/** Workspaces whose properties stand in objects against the same workspaces with properties of one name: the findings are the same ones at other
 *  paths, and the figures are those of a brute force that knows nothing of columns.
 */
import { describe, expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { settingsOf } from '../../src/core/plan/plan';
import { refOfProperty } from '../../src/core/plan/property-path';
import { figureOf } from '../../src/core/questions/compute-figure';
import { typedFormula } from '../../src/core/questions/typed-conditions';
import { bruteFigure, plainMessages } from './brute';
import { MANY_FAULTS, MESSAGE_FAULTS } from './faults';
import { formulasFor, rounded, told, withAbsurdDates } from './formulas';
import { findingsIn } from './judge';
import { nestedTwin } from './nested';
import { foreignWorkspace } from './workspace';
import { draws } from '../build/draws';

const FAULTS = { ...MESSAGE_FAULTS, ...MANY_FAULTS };

/** What of findings does not hang on where a property stands. */
const gist = (groups: ReturnType<typeof findingsIn>): string[] =>
  groups.map((g) => `${g.code} ${g.severity} ${g.eventName} ${g.sourceId} ${g.count}`).sort();

describe('findings', () => {
  test.each(
    Object.entries(FAULTS)
      .filter((_, i) => i % draws(3, 1) === 0)
      .map(([name, plant], i) => [name, plant, i] as const),
  )('%s', (_, plant, i) => {
    const { w } = plant(foreignWorkspace(2600 + i, 160), 1);
    expect(gist(findingsIn(nestedTwin(w)))).toEqual(gist(findingsIn(w)));
  });
});

test.each(Array.from({ length: draws(3, 12) }, (_, i) => 3100 + i))('figures of workspace %i', (seed) => {
  const w = nestedTwin(withAbsurdDates(foreignWorkspace(seed, 60)));
  // Some stand alone and some in objects, one in an object of an object.
  const depths = new Set(Object.values(w.plan.property).map((p) => [refOfProperty(p)].flat().length));
  expect([...depths].sort()).toEqual([1, 2, 3]);
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  const plain = plainMessages(w);
  const c = { people: persons, settings: settingsOf(w.plan), now: w.now };
  for (const formula of formulasFor(w)) {
    const typed = typedFormula(w.plan, formula).formula;
    expect([seed, formula.type, rounded(told(figureOf(typed, c)))]).toEqual([seed, formula.type, rounded(bruteFigure(w, plain, typed))]);
  }
});
