/** What is shown of a definition before it is saved. The worked case is common practice, no source. */
import { expect, test } from 'vitest';
import type { Definition } from '../../../src/core/definitions/definition';
import { circleWith, definitionPreviewOf } from '../../../src/core/definitions/definition-preview';
import { attributedTo } from '../../../src/core/table/following-persons';
import { MessageTable } from '../../../src/core/table/message-table';
import { create, planWith } from '../../build/plan';

const DAY = 86_400_000;
const BEGIN = Date.UTC(2026, 0, 1);
const at = (name: string, page: string): Definition => ({
  name,
  source: { of: 'events', names: ['Page Viewed'] },
  where: { match: 'all', conditions: [{ subject: { of: 'page path' }, op: 'starts with', values: [page] }], groups: [] },
  changes: [],
});

/** A thousand page views over ten days by fifty people: forty of the address that is meant, two of another one that begins alike. */
const thousand = (): { table: MessageTable; people: ReturnType<typeof attributedTo> } => {
  const table = new MessageTable();
  const persons: number[] = [];
  for (let i = 0; i < 1000; i++) {
    const page =
      i % 25 === 0 ? '/thanks' : i === 7 || i === 501 ? '/thanks-to-our-volunteers/2019/picnic' : `/tools/T-${i % 30}?mail=me@example.org`;
    table.append({ seq: i + 1, kind: 'event', name: 'Page Viewed', sourceId: 'web', release: i < 500 ? '1' : '2', occurredAt: BEGIN + (i / 100) * DAY, page, ids: {}, properties: { n: i } }); // prettier-ignore
    persons.push(i % 50);
  }
  return { table, people: attributedTo(table, Int32Array.from(persons)) };
};
const plan = planWith([create('source', 'web', { name: 'Web' })], { timeZone: 'Asia/Kathmandu' });
const NOW = BEGIN + 10 * DAY - 1;

test('of a thousand page views forty are of one address; a mark on the source would count all; the look-alike comes first', () => {
  const { people } = thousand();
  const p = definitionPreviewOf(people, plan, '', 'd', at('Thanked', '/thanks'), NOW);
  expect([p.messages, p.ofSource]).toEqual([42, 1000]);
  expect(p.lookAlikes[0]).toMatchObject({ value: '/thanks-to-our-volunteers/2019/picnic', messages: 2 });
  const exact = definitionPreviewOf(
    people,
    plan,
    '',
    'd',
    {
      ...at('Thanked', '/thanks'),
      where: { match: 'all', conditions: [{ subject: { of: 'page path' }, op: 'is', values: ['/thanks'] }], groups: [] },
    },
    NOW,
  );
  expect([exact.messages, exact.ofSource, exact.persons, exact.personsOfSource]).toEqual([40, 1000, 2, 50]);
  expect(exact.byPage).toEqual([{ value: '/thanks', messages: 40 }]);
  expect(exact.byRelease).toEqual([{ value: '1', messages: 20 }, { value: '2', messages: 20 }]); // prettier-ignore
});

test('days are those of the workspace, each one there, and they add up', () => {
  const { people, table } = thousand();
  const p = definitionPreviewOf(people, plan, '', 'd', at('All', '/'), NOW);
  expect(p.days.reduce((n, d) => n + d.messages, 0) + p.before).toBe(1000);
  for (const [i, d] of p.days.entries()) {
    const end = p.days[i + 1]?.at ?? Infinity;
    const own = Array.from({ length: table.length }, (_, row) => table.time.get(row)).filter((t) => t >= d.at && t < end).length;
    expect(d.messages).toBe(own);
  }
  // Kathmandu is 5:45 ahead: a day begins at 18:15 of the day before.
  expect(p.days.every((d) => (d.at + 5.75 * 3_600_000) % DAY === 0)).toBe(true);
});

test('an address with personal data in its query is masked wherever addresses are shown', () => {
  const { people } = thousand();
  const p = definitionPreviewOf(people, plan, '', 'd', at('Tools', '/tools'), NOW);
  const shown = JSON.stringify([p.byPage, p.lookAlikes]);
  expect(shown).not.toContain('me@example.org');
  expect(p.byPage.length).toBe(30);
});

test('what other definitions take of the same is told both ways; itself, retired ones and strangers are not', () => {
  const { people } = thousand();
  const whole = planWith([
    create('definition', 'd', { ...at('Thanked', '/thanks') }),
    create('definition', 'tools', { ...at('Tools', '/tools') }),
    create('definition', 'gone', { ...at('Gone', '/thanks'), retired: true }),
    create('definition', 'half', {
      ...at('Second Half', '/'),
      where: { match: 'all', conditions: [{ subject: { of: 'release' }, op: 'is', values: ['2'] }], groups: [] },
    }),
    create('definition', 'of', { ...at('Of It', '/'), source: { of: 'events', names: ['Second Half'] } }),
  ]);
  const p = definitionPreviewOf(people, whole, '', 'd', at('Thanked', '/thanks'), NOW);
  expect(p.shared).toEqual([
    { id: 'of', name: 'Of It', messages: 500, both: 21 },
    { id: 'half', name: 'Second Half', messages: 500, both: 21 },
  ]);
});

test('a definition that would be made of itself is refused with the circle, also where it is being renamed or is not in the plan yet', () => {
  const of = (name: string, ...names: string[]): Definition => ({ ...at(name, '/'), source: { of: 'events', names } });
  const whole = planWith([create('definition', 'a', of('A', 'B')), create('definition', 'b', of('B', 'Page Viewed'))]);
  expect(circleWith(whole, 'b', of('B', 'A'))).toEqual(expect.arrayContaining(['A', 'B']));
  expect(circleWith(whole, 'b', of('B', 'B'))).toBeUndefined();
  expect(circleWith(whole, 'new', of('C', 'A'))).toBeUndefined();
  expect(circleWith(whole, 'new', of('Page Viewed', 'A'))).toEqual(expect.arrayContaining(['A', 'B', 'Page Viewed']));
});
