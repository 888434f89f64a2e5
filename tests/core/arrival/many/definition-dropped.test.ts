import { describe, expect, test } from 'vitest';
import { create, planWith } from '../../../build/plan';
import { DAY, run, says, user, type Row } from './harness';

const asked = (text: string) =>
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web' }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      create('definition', 'd', {
        name: 'Help Asked',
        source: { of: 'interactions' },
        where: {
          match: 'all',
          conditions: [{ subject: { of: 'property', name: ['element', 'text'] }, op: 'is', values: [text] }],
          groups: [],
        },
      }),
    ],
    { timeZone: 'UTC' },
  );
const press = (day: number, i: number, text: string, release: string, place = 'main/aside/a'): Row => ({
  at: day * DAY + i * 20, kind: 'interaction', name: '', sourceId: 's', release, page: `/crates/${i}`, ids: user(i % 9), properties: { element: { text, role: 'link', place } },
}); // prettier-ignore

/** Forty days of ten other presses a day, and four of the link, which says something else from a day on. */
const history = (changesOn: number, next: string | undefined): Row[] =>
  Array.from({ length: 40 }, (_, day) => [
    ...Array.from({ length: 10 }, (_x, i) => press(day, i, 'Photos', day < changesOn ? '1' : '2', 'main/figure/button')),
    ...Array.from({ length: 4 }, (_x, i) =>
      day < changesOn ? press(day, 10 + i, 'Ask us', '1') : next === undefined ? undefined : press(day, 10 + i, next, '2'),
    ).filter((r) => r !== undefined),
  ])
    .flat()
    .sort((a, b) => a.at - b.at);

describe('definition-dropped', () => {
  test('a link whose words changed: since which day and release, and what took its place', () => {
    const found = run('definition-dropped', history(25, 'Ask about this crate'), 40 * DAY, asked('Ask us'));
    expect(found).toMatchObject([
      {
        eventName: 'Help Asked',
        sourceId: 's',
        params: {
          lastMoment: expect.stringMatching(/^1970-01-25 \d\d:\d\d UTC$/) as string,
          release: '2',
          text: 'Ask about this crate',
          place: 'main/aside/a',
        },
      },
    ]);
    expect(says('definition-dropped', found).map((s) => s.replace(/ \d\d:\d\d UTC/, ' at its minute'))).toEqual([
      '`Help Asked` takes nothing since 1970-01-25 at its minute, where about 4 messages a day were usual; release 2 came then; “Ask about this crate” probably took its place.',
    ]);
  });
  test('one that is gone without a successor says so, and names none', () => {
    const found = run('definition-dropped', history(25, undefined), 40 * DAY, asked('Ask us'));
    expect(found).toMatchObject([{ params: { text: '', place: '', release: '2' } }]);
  });
  test('what still comes, what never came, and a link that changed an hour ago are none', () => {
    expect(run('definition-dropped', history(40, undefined), 40 * DAY, asked('Ask us'))).toEqual([]);
    expect(run('definition-dropped', history(25, 'x'), 40 * DAY, asked('Never there'))).toEqual([]);
    expect(run('definition-dropped', history(39, 'Ask about this crate').filter((r) => r.at < 39 * DAY + 60), 39 * DAY + 60, asked('Ask us'))).toEqual([]); // prettier-ignore
  });
  test('a definition of an event is judged against that event, and a retired one not at all', () => {
    const rows = Array.from(
      { length: 40 },
      (_, day) =>
      Array.from({ length: 8 }, (_x, i): Row => ({ at: day * DAY + i, name: 'E', sourceId: 's', release: '1', page: i < 2 && day < 30 ? '/old' : '/new', ids: user(i) })), // prettier-ignore
    ).flat();
    const of = (retired: boolean) =>
      planWith([
        create('definition', 'd', {
          name: 'Old Page',
          source: { of: 'events', names: ['E'] },
          where: { match: 'all', conditions: [{ subject: { of: 'page path' }, op: 'is', values: ['/old'] }], groups: [] },
          retired,
        }),
      ]);
    expect(run('definition-dropped', rows, 40 * DAY, of(false))).toMatchObject([
      { params: { lastMoment: expect.stringMatching(/^1970-01-30 /) as string, release: '', text: '' } },
    ]);
    expect(run('definition-dropped', rows, 40 * DAY, of(true))).toEqual([]);
  });
});
