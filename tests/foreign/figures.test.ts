/** Figures of foreign workspaces against the same worked out by brute force: every formula, random conditions, absurd dates among the messages. */
import { expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { settingsOf } from '../../src/core/plan/plan';
import { figureOf } from '../../src/core/questions/compute-figure';
import { typedFormula } from '../../src/core/questions/typed-conditions';
import { bruteFigure, plainMessages } from './brute';
import { formulasFor, rounded, told, withAbsurdDates } from './formulas';
import { foreignWorkspace } from './workspace';
import { draws } from '../build/draws';

test.each(Array.from({ length: draws(10, 24) }, (_, i) => 3000 + i))('workspace %i', (seed) => {
  const w = withAbsurdDates(foreignWorkspace(seed, 60));
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  const plain = plainMessages(w);
  expect(new Set(persons.personOfMessage.filter((p) => p >= 0)).size).toBe(new Set(plain.map((m) => m.person).filter((p) => p >= 0)).size);
  const c = { people: persons, settings: settingsOf(w.plan), now: w.now };
  for (const formula of formulasFor(w)) {
    const typed = typedFormula(w.plan, formula).formula;
    const figure = figureOf(typed, c);
    expect([seed, formula.type, rounded(told(figure))]).toEqual([seed, formula.type, rounded(bruteFigure(w, plain, typed))]);
    // No series is without bound, and what it leaves out is counted.
    if ('points' in figure) expect(figure.points.length).toBeLessThanOrEqual(400);
    if (figure.type === 'active persons' || figure.type === 'total of a property') {
      const names =
        formula.type === 'active persons'
          ? formula.events.map((s) => s.eventName)
          : formula.type === 'total of a property'
            ? [formula.event.eventName]
            : [];
      expect(figure.outside.after).toBe(plain.filter((m) => m.kind === 'event' && names.includes(m.name) && m.at > w.now).length);
    }
  }
});
