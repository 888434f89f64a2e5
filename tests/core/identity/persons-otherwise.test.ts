/** Persons carried on to messages that say something otherwise, held against persons resolved from nothing out of those messages as if they had come so. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { membersOf } from '../../../src/core/identity/members';
import { personsOtherwise, type Resolved } from '../../../src/core/identity/persons-otherwise';
import { resolvePersons } from '../../../src/core/identity/persons';
import { overlaid } from '../../../src/core/table/overlay';
import { draws } from '../../build/draws';
import { arbitraryRules, ID_VALUES } from '../../build/arbitrary-rules';
import { RULES, tableOf } from '../../build/messages';

const KINDS = ['anonymous', 'device', 'session', 'user'];
const rules = fc
  .tuple(
    arbitraryRules(KINDS),
    fc.subarray<[string, string]>(
      [
        ['anonymous', 'device'],
        ['device', 'user'],
        ['session', 'device'],
        ['anonymous', 'user'],
      ],
      { minLength: 2 },
    ),
  ) // prettier-ignore
  .map(([own, links]) => ({ ...own, links }));
const message = fc.record({
  at: fc.nat(80),
  name: fc.constantFrom('E', 'Out', 'out', ''),
  ids: fc.dictionary(fc.constantFrom(...KINDS), fc.constantFrom(...ID_VALUES)),
  isLeftOut: fc.boolean(),
  ahead: fc.constantFrom(0, 0, 20, 45),
});

const BETWEEN = Array.from({ length: 30 }, () => ({ at: 0, name: 'Else', ids: {}, isLeftOut: false, ahead: 0 }));

/** Whose each row is: persons by their first row; with how many identifiers they have, and whether a user ID is among them. */
const told = (p: Resolved): unknown[] => {
  const { members, hasUser } = membersOf(p);
  const firsts = new Map<number, number>();
  return [...p.personOfMessage].map((person, row) => {
    if (person < 0) return -1;
    if (!firsts.has(person)) firsts.set(person, row);
    return `${firsts.get(person)} ${members[person]} ${hasUser[person]}`;
  });
};

test('messages left out, times put right and sign-outs named otherwise give the persons that they would have given', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 30 }), rules, fc.boolean(), fc.boolean(), (drawn, own, renames, isSparse) => {
      const all = { ...RULES, ...own };
      // What is alike may lie close together or far apart.
      const list = isSparse ? drawn.flatMap((m) => [m, ...BETWEEN]) : drawn;
      const table = tableOf(list.map(({ at, name, ids }) => ({ at, name, ids })));
      const otherwise = {
        leftOut: new Set(list.flatMap((m, row) => (m.isLeftOut ? [row] : []))),
        times: new Map(list.flatMap((m, row): [number, number][] => (m.ahead > 0 ? [[row, (m.at - m.ahead) * 60_000]] : []))),
        names: new Map(renames ? [['out', 'Out']] : []),
        values: new Map<string, Map<number, number>>(),
      };
      const over = overlaid(table, otherwise);
      const carried = personsOtherwise(resolvePersons(table, all), over, otherwise);
      const kept = list.flatMap((m, row) => (m.isLeftOut ? [] : [{ ...m, row }]));
      const fresh = resolvePersons(
        tableOf(kept.map((m) => ({ at: m.at - m.ahead, name: renames && m.name === 'out' ? 'Out' : m.name, ids: m.ids }))),
        all,
      );
      const rowsOf = (p: Resolved, rows: readonly number[]): Resolved => ({ ...p, personOfMessage: Int32Array.from(rows, (row) => p.personOfMessage[row]!) }); // prettier-ignore
      expect(told(rowsOf(carried, kept.map((m) => m.row)))).toEqual(told(fresh)); // prettier-ignore
      for (const row of otherwise.leftOut) expect(carried.personOfMessage[row]).toBe(-1);
    }),
    { seed: 23, numRuns: draws(1200, 6000) },
  );
});
