import { expect, test } from 'vitest';
import { wireNameAt } from '../../src/ui/wire-name';

interface Made {
  readonly tag: string;
  readonly text?: string;
  readonly within?: Made;
  readonly holds?: Made;
}
const fits = (m: Made, selector: string): boolean => selector.split(', ').some((s) => s === m.tag);
const like = (m: Made): NonNullable<Parameters<typeof wireNameAt>[0]> => ({
  closest: (s) => {
    for (let x: Made | undefined = m; x; x = x.within) if (fits(x, s)) return like(x);
    return null;
  },
  querySelector: (s) => (m.holds && fits(m.holds, s) ? like(m.holds) : null),
  matches: (s) => fits(m, s),
  textContent: m.text ?? m.holds?.text ?? null,
});

test('a wire name is taken exactly, where it is pointed at or held; not from a field, a sheet, or a text of several lines', () => {
  const name: Made = { tag: '.wire', text: '  Tool Viewed \n' };
  expect(wireNameAt(like(name))).toBe('Tool Viewed');
  expect(wireNameAt(like({ tag: 'b', within: name }))).toBe('Tool Viewed');
  expect(wireNameAt(like({ tag: 'button', holds: name }))).toBe('Tool Viewed');
  expect(wireNameAt(like({ tag: 'p', text: 'Tool Viewed' }))).toBeUndefined();
  expect(wireNameAt(like({ ...name, within: { tag: 'input' } }))).toBeUndefined();
  expect(wireNameAt(like({ ...name, within: { tag: '[role=grid]' } }))).toBeUndefined();
  expect(wireNameAt(like({ ...name, within: { tag: 'pre' } }))).toBeUndefined();
  expect(wireNameAt(like({ tag: '.wire', text: ' ' }))).toBeUndefined();
  expect(wireNameAt(null)).toBeUndefined();
});
