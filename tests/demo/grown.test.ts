/** The checks over many messages follow a table that grows: what they say at any moment is what they say of the same messages read anew. */
import { expect, test } from 'vitest';
import { manyGroups, type FoundGroup } from '../../src/core/arrival/finding-group';
import { tableMessage } from '../../src/core/arrival/history';
import { readMessage } from '../../src/core/arrival/message';
import { resolvePersons } from '../../src/core/identity/persons';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits } from '../../src/core/plan/edit';
import { emptyPlan, settingsOf } from '../../src/core/plan/plan';
import { Watch } from '../../src/core/plan/watch';
import { MessageTable, type TableMessage } from '../../src/core/table/message-table';
import { FAULT_IDS } from '../../src/demo/faults';
import { generate } from '../../src/demo/generator';
import { publishedEdits } from '../../src/demo/plan';

const NOW = Date.parse('2026-11-23T12:00:00Z');
const WATCHED_MS = 57 * 86_400_000;

const applied = applyEdits({ ...emptyPlan(DEFAULT_SETTINGS), settings: {} }, publishedEdits);
if (!applied.ok) throw new Error('the demo plan does not apply');
const { plan } = applied;

const recorded = (): TableMessage[] =>
  generate({ seed: 6, now: NOW, visitors: 2500, faults: new Set(FAULT_IDS) }).flatMap((g, i) => {
    const read = readMessage(JSON.parse(JSON.stringify(g.message)));
    return read.ok ? [tableMessage(read.message, i + 1, g.sourceId, g.receivedAt)] : [];
  });

const found = (table: MessageTable): FoundGroup[] => {
  const context = {
    plan,
    people: resolvePersons(table, settingsOf(plan).identity),
    now: NOW,
    watch: Watch.of(plan, NOW - WATCHED_MS),
  };
  const steps = manyGroups(context);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
};

test('asked again and again while messages come, and asked once at the end', () => {
  const messages = recorded();
  const grown = new MessageTable();
  let row = 0;
  const codes = new Set<string>();
  // From nothing, by large and by small steps, and once without anything new.
  for (const share of [0, 0.01, 0.5, 0.5, 0.95, 0.9501, 1]) {
    while (row < messages.length * share) grown.append(messages[row++]!);
    const anew = new MessageTable();
    for (const m of messages.slice(0, row)) anew.append(m);
    const groups = found(grown);
    expect(groups).toEqual(found(anew));
    for (const g of groups) codes.add(g.code);
  }
  expect(row).toBe(messages.length);
  // The comparison is about something.
  expect([...codes]).toEqual(expect.arrayContaining(['silence', 'unit-suspicion', 'clock-ahead', 'double-fire', 'never-seen']));
});
