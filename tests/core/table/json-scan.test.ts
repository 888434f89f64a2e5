import fc from 'fast-check';
import { expect, test } from 'vitest';
import { elementsOf } from '../../../src/core/table/json-scan';

test('the elements of a list, however it is laid out, are cut where JSON says they end', () => {
  const blank = fc.constantFrom('', ' ', '\n', '\t ', '\r\n');
  fc.assert(
    fc.property(fc.array(fc.jsonValue({ maxDepth: 3 }), { maxLength: 8 }), blank, fc.integer({ min: 0, max: 3 }), (values, gap, indent) => {
      const text = `${gap}[${gap}${values.map((v) => `${JSON.stringify(v, null, indent)}${gap}`).join(`,${gap}`)}]`;
      const bytes = Buffer.from(`${text}    `);
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      const at = elementsOf(view, bytes.indexOf('['));
      const cut = values.map((_, i) => JSON.parse(bytes.toString('utf8', at[2 * i], at[2 * i + 1])) as unknown);
      expect(at).toHaveLength(values.length * 2);
      expect(cut).toEqual(JSON.parse(JSON.stringify(values)));
    }),
    { numRuns: 300, seed: 5 },
  );
});
