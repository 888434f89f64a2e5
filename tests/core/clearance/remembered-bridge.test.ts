/** A bridge that is remembered is the one that would be worked out now, whichever messages came in between. */
import { expect, test } from 'vitest';
import { judgeHistory } from '../../../src/core/arrival/history';
import { bridgeOf, type Bridge } from '../../../src/core/clearance/bridge';
import { rememberedBridge } from '../../../src/core/clearance/remembered-bridge';
import { LivingPersons } from '../../../src/core/identity/living-persons';
import { blank } from '../../../src/core/plan/defaults';
import { SETTINGS_ID, settingsOf } from '../../../src/core/plan/plan';
import { MessageTable } from '../../../src/core/table/message-table';
import { readMessage } from '../../../src/core/arrival/message';
import { draws } from '../../build/draws';
import { MANY_FAULTS, MESSAGE_FAULTS } from '../../foreign/faults';
import { formulasFor } from '../../foreign/formulas';
import { foreignWorkspace, type Sent } from '../../foreign/workspace';

const done = (work: Generator<void, Bridge>): { readonly bridge: Bridge; readonly steps: number } => {
  for (let steps = 0; ; steps++) {
    const next = work.next();
    if (next.done) return { bridge: next.value, steps };
  }
};

test('as messages come, with several faults at once', () => {
  let [remembered, worked] = [0, 0];
  for (let seed = 7100; seed < 7100 + draws(1, 4); seed++) {
    const plants = [MESSAGE_FAULTS['another case of the name'], MANY_FAULTS['double-fire'], MANY_FAULTS['clock-ahead'], MANY_FAULTS['unit-suspicion'], MANY_FAULTS['premature-trigger']]; // prettier-ignore
    const w = plants.reduce((all, plant) => plant(all, 0.5).w, foreignWorkspace(seed, 50));
    const settings = settingsOf(w.plan);
    const plan = { ...w.plan, settings: { ...w.plan.settings, [SETTINGS_ID]: { ...settings, identity: { ...settings.identity, links: settings.identity.links.slice(1) } } } }; // prettier-ignore
    const questions = formulasFor(w).map((formula, i) => [`q${i}`, blank('question', { text: `q${i}`, formula })] as const);
    const { persons: whole } = judgeHistory(plan, w.messages, w.now, w.from);
    const table = new MessageTable(whole.table.userKind);
    const living = new LivingPersons(table, whole.rules);
    const add = ({ sourceId, receivedAt, value }: Sent): void => {
      const read = readMessage(value);
      if (!read.ok) return;
      table.append({ ...read.message, seq: table.length + 1, sourceId, receivedAt });
    };
    const late = w.messages.slice(-24);
    for (const m of w.messages.slice(0, -24)) add(m);
    for (const [i, m] of late.entries()) {
      add(m);
      living.follow();
      const persons = living.persons();
      for (const [id, q] of questions) {
        const by = done(rememberedBridge(plan, id, q, persons, w.now, undefined, table));
        if (by.steps === 0) remembered++;
        else worked++;
        expect([seed, i, id, by.bridge]).toEqual([seed, i, id, done(bridgeOf(plan, id, q, persons, w.now, undefined, table)).bridge]);
      }
    }
  }
  expect(remembered).toBeGreaterThan(0);
  expect(worked).toBeGreaterThan(remembered / 100);
});

test('another plan, and a minute, ask anew', () => {
  const w = foreignWorkspace(7200, 20);
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  const q = blank('question', { text: 'q', formula: formulasFor(w)[0]! });
  const steps = (plan: typeof w.plan, now: number): number =>
    done(rememberedBridge(plan, 'q', q, persons, now, undefined, persons.table)).steps;
  expect(steps(w.plan, w.now)).toBeGreaterThan(0);
  expect(steps(w.plan, w.now + 59_000)).toBe(0);
  expect(steps({ ...w.plan }, w.now + 59_000)).toBeGreaterThan(0);
  expect(steps(w.plan, w.now + 59_000)).toBeGreaterThan(0);
  expect(steps(w.plan, w.now + 119_000)).toBeGreaterThan(0);
});
