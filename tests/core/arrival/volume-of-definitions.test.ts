/** Volume of what a definition takes: told where it is the definition's own, and not what its events, or its whole source, did. */
import { foundBy } from '../../../src/core/arrival/check-many';
import { expect, test } from 'vitest';
import { volumeChange } from '../../../src/core/arrival/many/volume-change';
import { valuesOf } from '../../../src/core/arrival/check';
import { resolvePersons } from '../../../src/core/identity/persons';
import { personRulesOf } from '../../../src/core/identity/person-rules';
import { Watch } from '../../../src/core/plan/watch';
import { MessageTable } from '../../../src/core/table/message-table';
import { seeded } from '../../../src/demo/random';
import { create, event, planWith } from '../../build/plan';

const DAY = 86_400_000;
const DAYS = 64;
const LAST = 5;
const NOW = Date.parse('2026-11-23T00:00:00Z') + 3_600_000;
const plan = planWith([
  create('source', 'web', { name: 'Web', kind: 'web', mark: 'W' }),
  create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
  event('e', { name: 'Page Viewed' }),
  event('f', { name: 'Tool Viewed' }),
  create('definition', 'd', {
    name: 'Guide Viewed',
    source: { of: 'events', names: ['Page Viewed'] },
    where: { match: 'all', conditions: [{ subject: { of: 'page path' }, op: 'starts with', values: ['/guides'] }], groups: [] },
  }),
]);

/** Messages of each day by kind, those of the last days apart. */
const found = (seed: number, before: Record<string, number>, after: Record<string, number>): string[] => {
  const rng = seeded(seed);
  const table = new MessageTable();
  let seq = 0;
  for (let d = DAYS; d > 0; d--)
    for (const [kind, mean] of Object.entries(d <= LAST ? after : before)) {
      // Counts that scatter as those of messages at random do.
      const n = Math.max(0, Math.round(mean + (mean === 0 ? 0 : Math.sqrt(mean) * (rng.next() + rng.next() + rng.next() - 1.5) * 2)));
      const [name, page] = kind === 'tools' ? ['Tool Viewed', '/tools/7'] : ['Page Viewed', kind];
      for (let i = 0; i < n; i++)
        table.append({ seq: ++seq, kind: 'event', name, sourceId: 'web', release: '1', occurredAt: NOW - 3_600_000 - d * DAY + Math.floor((i / n) * DAY), page, ids: { user: `u${i}` }, properties: {} }); // prettier-ignore
    }
  const people = resolvePersons(table, personRulesOf(plan));
  const c = { plan, people, now: NOW, watch: Watch.of(plan, NOW - 90 * DAY), intake: [] };
  return foundBy(volumeChange, c, valuesOf(volumeChange.parameters, undefined)).map((f) => `${f.eventName || 'source'} ${f.field}`);
};
const usual = { '/guides/1': 60, '/about': 300, tools: 400 };

test.each([
  ['what is the definition’s own', { ...usual, '/guides/1': 20, '/about': 340 }, ['Guide Viewed fewer']],
  ['more of it as well', { ...usual, '/guides/1': 160, '/about': 200 }, ['Guide Viewed more']],
  ['nothing where nothing changed', usual, []],
  ['what its event did is told of the event', { ...usual, '/guides/1': 24, '/about': 120 }, ['source fewer', 'Page Viewed fewer']],
  ['what the source did is told of the source', { '/guides/1': 24, '/about': 120, tools: 160 }, ['source fewer']],
  ['what comes no more at all has a check of its own', { ...usual, '/guides/1': 0, '/about': 360 }, []],
] as const)('%s', (_, after, wanted) => {
  for (const seed of [1, 2, 3]) {
    const own = found(seed, usual, after);
    // A source of two events may be off by what one of them did.
    expect(wanted.includes('Page Viewed fewer' as never) ? own.filter((f) => f !== 'source fewer') : own).toEqual(
      wanted.filter((f) => !wanted.includes('Page Viewed fewer' as never) || f !== 'source fewer'),
    );
  }
});
