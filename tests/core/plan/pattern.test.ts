/** Patterns: ECMAScript's meaning, in bounded time. Differential against the engine's own RegExp, which is the reference where it is safe to run. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseEdit } from '../../../src/core/plan/document-schema';
import { plainItems } from '../../../src/core/plan/plain-pattern';
import { patternRefused, readPattern } from '../../../src/core/plan/pattern';
import { fixOf, lintMessage, lintPlan } from '../../../src/core/lint/lint';
import { planWith, property } from '../../build/plan';

const matches = (source: string, text: string): boolean => {
  const r = readPattern(source);
  if (!r.ok) throw new Error(r.detail);
  return r.pattern.test(text);
};

describe('in bounded time', () => {
  test.each([
    ['^(a+)+$', `${'a'.repeat(50_000)}!`],
    ['^([a-z0-9]+-?)*$', `${'abc'.repeat(20_000)}!`],
    ['^(\\w+\\s?)*$', `${'word '.repeat(10_000)}!`],
    ['(.*)(.*)(.*)x$', 'y'.repeat(20_000)],
    ['^(a|aa)+$', `${'a'.repeat(40_000)}b`],
  ])('%s over a text that a matcher with backtracking never ends on', (source, text) => {
    expect(matches(source, text)).toBe(false);
  });
});

describe('what cannot be matched so is refused with the reason', () => {
  test.each([
    ['(?=a)b', 'ahead'],
    ['(?<!a)b', 'ahead or back'],
    ['(a)\\1', 'looks back'],
    ['(?<x>a)\\k<x>', 'looks back'],
    ['[\\S]', 'within brackets'],
    ['[]', 'fits nothing'],
    ['\\ud800', 'half a surrogate pair'],
    ['(', 'no regular expression'],
    ['a{2,1}', 'no regular expression'],
    ['[[:alpha:]]', 'no regular expression'],
    ['(?i)a', 'no regular expression'],
    ['x'.repeat(501), 'at most 500'],
    ['((a{30}){30}){30}', ''],
  ])('%.40s', (source, why) => {
    const refused = patternRefused(source);
    expect(refused).toBeTypeOf('string');
    expect(refused).toContain(why);
  });
});

/** Pieces that every dialect has, and those in which dialects differ. */
const atom = fc.constantFrom(
  'a', 'b', 'é', '.', '\\d', '\\w', '\\s', '\\S', '\\D', '\\W', '[a-c]', '[^a]', '[\\s\\d]', '[[]', '[^]', '\\u0041', '\\u{1f600}', '\\ud83d\\ude00', '\\x41', '\\cJ', '\\0',
  '\\b', '\\B', '\\p{L}', '\\p{Lu}', '\\P{L}', '\\p{Script=Greek}', '\\/', '\\.', '[\\b]', '[\\-x]', '\\t', '\\n', '(?:ab)', '(a|b)', '(?<n>a)', '^', '$', '\\[',
); // prettier-ignore
const quantified = fc
  .tuple(atom, fc.constantFrom('', '', '', '*', '+', '?', '{2}', '{1,3}', '*?', '+?'))
  .map(([a, q]) => (/^(\^|\$|\\b|\\B)$/.test(a) ? a : a + q));
const source = fc.array(quantified, { minLength: 1, maxLength: 4 }).map((parts) => parts.join(''));
const text = fc
  .array(
    fc.constantFrom(
      'a',
      'b',
      'c',
      'A',
      'é',
      'É',
      'α',
      '1',
      '9',
      '_',
      ' ',
      '\n',
      '\r',
      '\u2028',
      '\u00a0',
      '\ufeff',
      '\t',
      '\0',
      '\b',
      '[',
      '-',
      '/',
      '.',
      'x',
      '😀',
    ),
    { maxLength: 8 },
  )
  .map((parts) => parts.join(''));

test('it means what ECMAScript means', () => {
  let compared = 0;
  fc.assert(
    fc.property(source, fc.array(text, { minLength: 3, maxLength: 6 }), (pattern, texts) => {
      // The engine takes a name of a group once.
      fc.pre(pattern.split('(?<n>').length <= 2);
      const reference = new RegExp(pattern, 'u');
      const r = readPattern(pattern);
      expect(r.ok, r.ok ? '' : r.detail).toBe(true);
      if (!r.ok) return;
      for (const t of texts) {
        // V8 also looks between the halves of a surrogate pair, where ECMA-262 does not (AdvanceStringIndex): there \B holds.
        if (pattern.includes('\\B') && t.includes('😀')) continue;
        expect([pattern, t, r.pattern.test(t)]).toEqual([pattern, t, reference.test(t)]);
        compared++;
      }
    }),
    { numRuns: 3000 },
  );
  expect(compared).toBeGreaterThan(9000);
});

describe('plain patterns, which the engine matches itself', () => {
  test.each([
    ['^m-\\d+$', true],
    ['^[A-Z]{2}-[0-9]{3,6}$', true],
    ['^[a-f0-9]{8}-[a-f0-9]{4}$', true],
    ['^v\\d+\\.\\d+$', true],
    ['^[A-Za-z_][\\w.-]*$', true],
    ['^a?b*c$', true],
    ['^(a+)+$', false],
    ['^([a-z0-9]+-?)*$', false],
    ['^\\d+\\d+$', false],
    ['^\\w+\\d$', false],
    ['^a*b?a$', false],
    ['^a+a$', false],
    ['a+b', false],
    ['^a+', false],
    ['^.+$', false],
    ['^[^a]+$', false],
    ['^a|b$', false],
    ['^a+?$', false],
    ['^\\s+$', false],
  ])('%s: %s', (source, plain) => expect(plainItems(source) !== undefined).toBe(plain));

  const piece = fc
    .tuple(
      fc.constantFrom('a', 'b', 'c', '[ab]', '[a-c]', '\\d', '[0-4x]', '-', '\\.'),
      fc.constantFrom('', '', '+', '*', '?', '{2}', '{1,3}', '{2,}'),
    )
    .map(([atom, q]) => atom + q);
  const plainSource = fc.array(piece, { minLength: 1, maxLength: 6 }).map((p) => `^${p.join('')}$`);

  test('a matcher that gives back what it took never needs more steps than characters times items', () => {
    let plain = 0;
    fc.assert(
      fc.property(plainSource, fc.array(fc.constantFrom('a', 'b', 'c', '1', '9', 'x', '-', '.'), { maxLength: 60 }), (pattern, letters) => {
        const items = plainItems(pattern);
        fc.pre(items !== undefined);
        plain++;
        const text = letters.join('');
        const runs = text.replace(/./g, (c) => c.repeat(9));
        for (const t of [text, runs, `${'a'.repeat(200)}!`, `${'1'.repeat(200)}-`]) {
          let steps = 0;
          const has = (i: number, at: number): boolean => {
            steps++;
            const c = t.charCodeAt(at);
            return at < t.length && items[i]!.set.some(([f, to]) => c >= f && c <= to);
          };
          const match = (i: number, at: number): boolean => {
            if (i === items.length) return at === t.length;
            let n = 0;
            while (n < items[i]!.max && has(i, at + n)) n++;
            for (; n >= items[i]!.min; n--) if (match(i + 1, at + n)) return true;
            return false;
          };
          expect(match(0, 0)).toBe(new RegExp(pattern, 'u').test(t));
          expect(steps).toBeLessThanOrEqual((t.length + 2) * (items.length + 1) * 2);
        }
      }),
      { numRuns: 2000 },
    );
    expect(plain).toBeGreaterThan(300);
  });
});

test('an edit with a pattern that cannot be matched is refused where it comes in; one that takes such a pattern away is taken', () => {
  const set = (before: string, after: string) => parseEdit({ op: 'set', kind: 'property', id: 'p', field: 'pattern', before, after });
  expect(set('', '^(?=a)')).toMatchObject({ ok: false, detail: expect.stringContaining('looks ahead') as unknown });
  expect(set('^(?=a)', '^[A-Z]+$')).toMatchObject({ ok: true });
  expect(parseEdit({ op: 'create', kind: 'property', id: 'constructor', body: {} }).ok).toBe(false);
});

test('a stored pattern that cannot be matched is said to check nothing, and can be removed', () => {
  const plan = planWith([property('p', { name: 'code', pattern: '(?=a)' })]);
  const found = lintPlan(plan).filter((f) => f.code === 'pattern-unreadable');
  expect(found).toHaveLength(1);
  expect(lintMessage(found[0]!)).toContain('Nothing that arrives is held against the pattern of `code`');
  expect(fixOf(plan, found[0]!)).toEqual([{ op: 'set', kind: 'property', id: 'p', field: 'pattern', before: '(?=a)', after: '' }]);
});
