/** Which messages a definition takes: the columns against a reading of each message by itself. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { EVERYTHING, type Condition, type Definition } from '../../../src/core/definitions/definition';
import { rowsOfDefinition, sourceRows, type MatchContext } from '../../../src/core/definitions/matching-rows';
import { sharing } from '../../../src/core/definitions/overlap';
import { pagePath, pageQuery } from '../../../src/core/definitions/page-parts';
import { previewOf } from '../../../src/core/definitions/preview';
import { refOf } from '../../../src/core/plan/property-path';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { definition, ENVIRONMENTS, message, naiveTakes, tableFrom } from './naive';
import { draws } from '../../build/draws';

const contextOf = (table: MessageTable, more: Partial<MatchContext> = {}): MatchContext => ({
  table,
  environmentOf: (id) => ENVIRONMENTS[id] ?? '',
  userValues: () => ({ at: () => -1, values: [] }),
  ...more,
});
const view = (page: string, more: Partial<TableMessage> = {}): Omit<TableMessage, 'seq'> => ({
  kind: 'event', name: 'Page Viewed', sourceId: 'web', release: '1.0', occurredAt: 0, page, ids: {}, properties: {}, ...more,
}); // prettier-ignore
const on = (where: readonly Condition[], names = ['Page Viewed']): Definition => ({
  name: 'Narrow',
  source: { of: 'events', names },
  where: { match: 'all', conditions: where, groups: [] },
  changes: [],
  since: undefined,
});

/** Since 1970, as far as messages reach. */
const UTC_DAYS = { count: 40_000, of: (at: number) => Math.floor(at / 86_400_000) };

test('columns and a reading of each message by itself take the same', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 40 }), definition, (messages, d) => {
      const rows = rowsOfDefinition(d, contextOf(tableFrom(messages)));
      expect([...rows]).toEqual(messages.flatMap((m, i) => (naiveTakes(m, d) ? [i] : [])));
    }),
    { seed: 61, numRuns: draws(600, 3000) },
  );
});

test('a preview’s counts, shares and near misses are those of a reading of each message by itself', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 40 }), definition, (messages, d) => {
      const table = tableFrom(messages);
      const p = previewOf(d, contextOf(table), UTC_DAYS);
      const taken = messages.flatMap((m, i) => (naiveTakes(m, d) ? [i] : []));
      expect(p.messages).toBe(taken.length);
      expect(p.ofSource).toBe(messages.filter((m) => naiveTakes(m, { ...d, where: EVERYTHING })).length);
      expect(p.perDay.reduce((n, [, k]) => n + k, 0)).toBe(taken.length);
      for (const [day, n] of p.perDay)
        expect(taken.filter((i) => Math.floor(messages[i]!.occurredAt / 86_400_000) === day)).toHaveLength(n);
      for (const { value, messages: n } of p.bySource) expect(taken.filter((i) => messages[i]!.sourceId === value)).toHaveLength(n);
      for (const { value, messages: n } of p.byPage) expect(taken.filter((i) => messages[i]!.page === value)).toHaveLength(n);
      expect(new Set(p.lookAlikes.map((l) => l.value))).toEqual(new Set(p.byPage.map((c) => c.value)));
      expect(p.examples).toEqual(
        taken
          .slice(-20)
          .reverse()
          .map((i) => i + 1),
      );
      // A near miss: without that part alone it would be taken.
      const parts = d.where.conditions.length + d.where.groups.length;
      for (let part = 0; part < parts; part++) {
        const without: Definition = {
          ...d,
          where: {
            ...d.where,
            conditions: d.where.conditions.filter((_, i) => i !== part),
            groups: d.where.groups.filter((_, i) => i + d.where.conditions.length !== part),
          },
        };
        const missed = messages.filter((m) => d.where.match === 'all' && parts > 1 && naiveTakes(m, without) && !naiveTakes(m, d)).length;
        expect(p.nearMisses.find((x) => x.part === part)?.messages ?? 0).toBe(missed);
      }
    }),
    { seed: 62, numRuns: draws(300, 1500) },
  );
});

describe('the trade’s worked case (common practice, no source)', () => {
  // A thousand page views, forty of one address; five of another that begins the same.
  const pages = [
    ...Array.from({ length: 40 }, () => '/contact/thanks'),
    ...Array.from({ length: 5 }, () => '/contact/thanks-for-nothing?from=survey'),
    ...Array.from({ length: 955 }, (_, i) => `/tools/${i % 50}`),
  ];
  const c = contextOf(tableFrom(pages.map((p) => view(p))));

  test('the narrow event counts 40, where the broad one has 1,000', () => {
    const exact = previewOf(on([{ subject: { of: 'page path' }, op: 'is', values: ['/contact/thanks'] }]), c, UTC_DAYS);
    expect([exact.messages, exact.ofSource]).toEqual([40, 1000]);
    expect(exact.lookAlikes.map((l) => l.value)).toEqual(['/contact/thanks']);
  });

  test('a condition that lets in another address shows it first, before it is saved', () => {
    const loose = previewOf(on([{ subject: { of: 'page address' }, op: 'contains', values: ['/contact/thanks'] }]), c, UTC_DAYS);
    expect(loose.messages).toBe(45);
    expect(loose.lookAlikes.map(({ value, messages }) => [value, messages])).toEqual([
      ['/contact/thanks-for-nothing?from=survey', 5],
      ['/contact/thanks', 40],
    ]);
  });
});

test('names are united, each message once; a definition is a source for another', () => {
  const messages = [
    view('/a'),
    view('/b', { name: 'page_viewed' }),
    view('/a', { name: 'Loan Started' }),
    view('/a', { name: 'page_viewed' }),
  ];
  const table = tableFrom(messages);
  const twins = { of: 'events', names: ['Page Viewed', 'page_viewed', 'Page Viewed'] } as const;
  const all = sourceRows(twins, contextOf(table));
  expect([...all]).toEqual([0, 1, 3]);
  const narrow = on([{ subject: { of: 'page path' }, op: 'is', values: ['/a'] }], ['Any Page']);
  expect([...rowsOfDefinition(narrow, contextOf(table, { definedRows: (n) => (n === 'Any Page' ? all : undefined) }))]).toEqual([0, 3]);
});

test('a user property is taken as it was at the message', () => {
  const table = tableFrom([view('/a'), view('/b'), view('/c')]);
  const tier = refOf(['tier']);
  const userValues: MatchContext['userValues'] = () => ({ at: (row) => [-1, 0, 1][row]!, values: ['basic', 'gold'] });
  const rows = (op: Condition['op'], values: Condition['values']): number[] => [
    ...rowsOfDefinition(on([{ subject: { of: 'user property', name: tier }, op, values }]), contextOf(table, { userValues })),
  ];
  expect(rows('is', ['gold'])).toEqual([2]);
  expect(rows('is not', ['gold'])).toEqual([1]);
  expect(rows('is absent', [])).toEqual([0]);
});

test('a preview that is carried on as messages come is that over all of them at once', () => {
  fc.assert(
    fc.property(
      fc.array(message, { maxLength: 120 }),
      definition,
      fc.array(fc.integer({ min: 1, max: 70 }), { maxLength: 4 }),
      (messages, d, steps) => {
        const growing = new MessageTable();
        let upTo = 0;
        for (const step of [...steps, messages.length]) {
          for (; upTo < Math.min(messages.length, step); upTo++) growing.append({ ...messages[upTo]!, seq: upTo + 1 });
          expect(previewOf(d, contextOf(growing), UTC_DAYS)).toEqual(previewOf(d, contextOf(tableFrom(messages.slice(0, upTo))), UTC_DAYS));
        }
      },
    ),
    { seed: 64, numRuns: draws(40, 300) },
  );
});

test('what two lists share is what two sets do', () => {
  const list = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { maxLength: 40 }).map((l) => Int32Array.from(l.sort((a, b) => a - b)));
  fc.assert(
    fc.property(fc.array(list, { minLength: 2, maxLength: 2 }), (lists) => {
      const [a, b] = [new Set(lists[0]), new Set(lists[1])];
      expect(sharing(lists[0]!, 61)(lists[1]!)).toBe([...a].filter((x) => b.has(x)).length);
    }),
    { seed: 63, numRuns: draws(40, 300) },
  );
});

test('the parts of an address are those of the URL standard', () => {
  // Source: WHATWG URL as Node.js has it, on addresses without escapes.
  for (const page of [
    '/',
    '/a',
    '/a/b/',
    '/a//b',
    '/a?x=1&y=2',
    '/a?x=1#part',
    '/a#part?no',
    'https://host.example/a/b?q=?',
    'https://host.example',
  ]) {
    const url = new URL(page, 'https://host.example');
    expect([page, pagePath(page)]).toEqual([page, `/${url.pathname.split('/').filter(Boolean).join('/')}`]);
    expect([page, pageQuery(page)]).toEqual([page, url.search.slice(1)]);
  }
  expect(pageQuery('/a#part?no')).toBe('');
});
