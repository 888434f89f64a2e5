import fc from 'fast-check';
import { expect, test } from 'vitest';
import { rangeOf, toSheetText } from '../../src/ui/ledger-model';
import { fromSheetText } from '../../src/ui/sheet-text';

test('a range that is copied and pasted is the same, whatever stands in its cells', () => {
  const cell = fc.oneof(fc.string(), fc.constantFrom('a\tb', 'a\nb', 'say "so"', '"', '', '=1+1'));
  const grid = fc
    .integer({ min: 1, max: 5 })
    .chain((n) => fc.array(fc.array(cell, { minLength: n, maxLength: n }), { minLength: 1, maxLength: 5 }));
  fc.assert(
    fc.property(grid, (cells) => {
      // A lone empty last row of one cell cannot be told from a final line feed.
      fc.pre(!(cells.length > 1 && cells.at(-1)!.length === 1 && cells.at(-1)![0] === ''));
      expect(fromSheetText(toSheetText(cells))).toEqual(cells);
    }),
    { seed: 10 },
  );
});

test('text from a sheet, with the line ends of any system', () => {
  expect(fromSheetText('a\tb\r\nc\td\r\n')).toEqual([
    ['a', 'b'],
    ['c', 'd'],
  ]);
  expect(fromSheetText('"two\nlines"\t"a ""word"""')).toEqual([['two\nlines', 'a "word"']]);
  expect(fromSheetText('one')).toEqual([['one']]);
});

test('a range is the same from either corner', () => {
  expect(rangeOf({ row: 4, column: 1 }, { row: 2, column: 3 })).toEqual(rangeOf({ row: 2, column: 3 }, { row: 4, column: 1 }));
});
