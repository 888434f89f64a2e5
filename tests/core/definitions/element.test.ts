/** Elements of pages as interactions tell them, and the conditions that take them again. */
import { expect, test } from 'vitest';
import { lookAlikes, toldApart, unlikeBulk } from '../../../src/core/definitions/look-alikes';
import { conditionsFor, elementOf, nameFor, pressedAt, type ElementLike } from '../../../src/core/definitions/element';
import { rowsOfDefinition } from '../../../src/core/definitions/matching-rows';
import { MessageTable } from '../../../src/core/table/message-table';

const el = (tag: string, given: Record<string, string> = {}, text = '', parent?: ElementLike): ElementLike => ({
  tag,
  attribute: (name) => given[name],
  text,
  parent,
});
const page = el('main', {}, '', el('body', {}, '', el('html')));
const inside = (tag: string, given: Record<string, string> = {}, text = ''): ElementLike =>
  el(tag, given, text, el('p', {}, '', el('div', {}, '', page)));

test('what is hit inside of a button means the button; what nobody presses means nothing', () => {
  const button = inside('button', {}, 'Reserve');
  expect(pressedAt(el('svg', {}, '', el('b', {}, '', button)))).toBe(button);
  expect(pressedAt(el('b', {}, 'bold', page))).toBeUndefined();
  expect(pressedAt(undefined)).toBeUndefined();
  const named = inside('section', { 'data-part': 'photos' });
  expect(pressedAt(el('img', {}, '', named))).toBe(named);
  const asButton = inside('span', { role: 'button' });
  expect(pressedAt(el('i', {}, '', asButton))).toBe(asButton);
});

test('the place is the name that the page gives the part, else the way to it, without what every page has', () => {
  expect(elementOf(inside('button', { 'data-part': 'reserve' }, 'Reserve'))).toEqual({ text: 'Reserve', role: 'button', place: 'reserve' });
  expect(elementOf(inside('a', {}, 'Ask a\n librarian '))).toEqual({ text: 'Ask a librarian', role: 'link', place: 'main/p/a' });
  // A name never looks like a way.
  expect(elementOf(inside('button', { 'data-part': 'a/b' }, 'x')).place).toBe('a b');
  expect(elementOf(el('button', {}, 'alone')).place).toBe('/button');
});

test('what somebody wrote or chose is not read; what the page calls a field is', () => {
  expect(elementOf(inside('input', { type: 'text', value: 'me@example.org', 'aria-label': 'Search' })).text).toBe('Search');
  expect(elementOf(inside('input', { type: 'text', value: 'me@example.org' })).text).toBe('');
  expect(elementOf(inside('textarea', {}, 'dear diary')).text).toBe('');
  expect(elementOf(inside('select', {}, 'today this week'))).toMatchObject({ text: '', role: 'list' });
  expect(elementOf(inside('input', { type: 'submit', value: 'Go' }))).toMatchObject({ text: 'Go', role: 'button' });
  expect(elementOf(inside('input', { type: 'checkbox' })).role).toBe('checkbox');
  expect(elementOf(inside('button', {}, 'שלום'.repeat(3000))).text).toHaveLength(200);
});

test('the conditions proposed for an element take it again: by its own name, else by role and words, else by its place', () => {
  const elements = [
    inside('button', { 'data-part': 'reserve' }, 'Reserve'),
    inside('button', { 'data-part': 'reserve' }, 'Reserve for 3 days'),
    inside('a', {}, 'Ask a librarian'),
    inside('a', {}, 'Ask about this tool'),
    inside('button', {}, ''),
    inside('button', {}, 'Ask a librarian'),
  ].map((e) => elementOf(e));
  const table = new MessageTable();
  elements.forEach((element, i) =>
    table.append({
      seq: i + 1,
      kind: 'interaction',
      name: '',
      sourceId: 'web',
      release: '1',
      occurredAt: i,
      ids: {},
      properties: { element },
    }),
  );
  const taken = (i: number): number[] => [
    ...rowsOfDefinition(
      { source: { of: 'interactions' }, where: { match: 'all', conditions: conditionsFor(elements[i]!), groups: [] } },
      { table, environmentOf: () => '', userValues: () => ({ at: () => -1, values: [] }) },
    ),
  ];
  // A part that says something else is the same part; a link and a button that say the same are two.
  expect([taken(0), taken(2), taken(3), taken(4), taken(5)]).toEqual([[0, 1], [2], [3], [4, 5], [5]]);
});

test('a name is made of what it says, else of where it is; what is unlike the bulk is told from it', () => {
  expect(nameFor({ text: 'ask about this tool, or call us', role: 'link', place: 'main/a' })).toBe('Ask About This Tool Or Pressed');
  expect(nameFor({ text: '', role: 'button', place: 'main/figure/button' })).toBe('Main Figure Button Pressed');
  const of = (value: string, messages: number, likeness: number) => ({ value, messages, likeness });
  expect(unlikeBulk([of('/x', 2, 0.1), of('/a', 20, 0.8), of('/b', 20, 0.9)]).map((l) => l.value)).toEqual(['/x']);
  expect(unlikeBulk([of('/a', 20, 0.5), of('/b', 20, 0.5)])).toEqual([]);
  expect(unlikeBulk([])).toEqual([]);
});

test('of texts of elements the odd one is told apart, and each is shown once', () => {
  const texts = new Map([
    ['Reserve this tool', 400],
    ['Reserve this tool now', 60],
    ['Delete my account', 3],
    ['', 2],
  ]);
  const counted = [...texts].map(([value, messages]) => ({ value, messages }));
  const told = toldApart(counted, lookAlikes(texts), 8);
  expect(told.unlike.map((x) => x.value)).toEqual(['', 'Delete my account']);
  expect(told.others.map((x) => x.value)).toEqual(['Reserve this tool', 'Reserve this tool now']);
  expect(told.more).toBe(0);
  expect(toldApart(counted, lookAlikes(texts), 1)).toMatchObject({
    unlike: [{ value: '' }],
    others: [{ value: 'Reserve this tool' }],
    more: 2,
  });
});
