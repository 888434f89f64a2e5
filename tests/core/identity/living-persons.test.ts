import fc from 'fast-check';
import { expect, test } from 'vitest';
import { LivingPersons } from '../../../src/core/identity/living-persons';
import { resolvePersons, type Persons } from '../../../src/core/identity/persons';
import { MessageTable } from '../../../src/core/table/message-table';
import { arbitraryRules, ID_VALUES } from '../../build/arbitrary-rules';
import { RULES, tableOf } from '../../build/messages';

const KINDS = ['anonymous', 'device', 'user'];
const rules = arbitraryRules(KINDS);
const message = fc.record({
  at: fc.nat(15),
  name: fc.constantFrom('E', 'Out', ''),
  ids: fc.dictionary(fc.constantFrom(...KINDS), fc.constantFrom(...ID_VALUES)),
});

/** What two answers are compared by: links in an order of their own. */
const plain = (p: Persons) => ({ ...p, links: p.links.map((l) => [l.a, l.b, l.firstAt].join(' ')).sort() });

test('followed message by message, persons are what all messages at once give, under whatever rules', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(message, fc.boolean()), { maxLength: 40 }), rules, (list, own) => {
      const all = { ...RULES, ...own };
      const table = new MessageTable();
      const living = new LivingPersons(table, all);
      list.forEach(([m, look], i) => {
        table.append({
          seq: i + 1,
          kind: m.name === '' ? 'identify' : 'event',
          name: m.name,
          sourceId: 's',
          release: '',
          occurredAt: m.at * 60_000,
          ids: m.ids,
          properties: {},
        });
        // Sometimes one by one, sometimes several together; looked at in between or not.
        if (look) {
          living.follow();
          expect(plain(living.persons())).toEqual(plain(resolvePersons(table, all)));
        }
      });
      living.follow();
      expect(plain(living.persons())).toEqual(plain(resolvePersons(table, all)));
    }),
    { seed: 11, numRuns: 1500 },
  );
});

test('a component of 100,000 identifiers, and one under a guard, take one more link each and stay right', () => {
  const n = 100_000;
  const table = tableOf([
    ...Array.from({ length: n }, (_, i) => ({ at: i, ids: { anonymous: `a-${i}`, device: `d-${Math.floor(i / 2)}` } })),
    ...Array.from({ length: n / 2 - 1 }, (_, i) => ({ at: n + i, ids: { anonymous: `a-${2 * i + 2}`, device: `d-${i}` } })),
  ]);
  const living = new LivingPersons(table, RULES);
  living.follow();
  expect(living.persons().count).toBe(1);
  const late = (ids: Record<string, string>) =>
    table.append({ seq: table.length + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: 1e12, ids, properties: {} });
  late({ anonymous: 'a-7', user: 'first' });
  late({ anonymous: 'a-9', user: 'second' });
  expect(living.follow()).toBe(2);
  const now = living.persons();
  expect([now.count, now.refused.map((r) => r.why)]).toEqual([2, ['two user IDs']]);
  expect(now.personOfMessage).toEqual(resolvePersons(table, RULES).personOfMessage);
});

const MINUTE = 60_000;

test('what devices of several people send, mostly in order: each look gives what all at once give, and nobody becomes somebody else within a lineage', () => {
  const device = fc.constantFrom('d1', 'd2', 'd3');
  const step = fc.record({
    // Now and then a device is left alone for longer than half an hour; now and then something comes late.
    after: fc.oneof({ weight: 8, arbitrary: fc.integer({ min: 0, max: 45 }) }, { weight: 1, arbitrary: fc.integer({ min: -90, max: -1 }) }),
    name: fc.oneof({ weight: 5, arbitrary: fc.constant('E') }, { weight: 1, arbitrary: fc.constant('Out') }),
    ids: fc.record({ device, kiosk: device, user: fc.constantFrom('u1', 'u2', 'u3', 'null') }, { requiredKeys: [] }),
    look: fc.boolean(),
  });
  const own = fc.record({
    maxUserIds: fc.constantFrom(0, 1, 2),
    sharedDeviceUsers: fc.constantFrom(0, 1, 2),
    signOutEvents: fc.constantFrom([], ['Out']),
  });
  let [ofSeveral, kept] = [0, 0];
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), own, (steps, rules) => {
      const all = { ...RULES, ...rules };
      const table = new MessageTable();
      const living = new LivingPersons(table, all);
      let now = 0;
      let before: Persons | undefined;
      const several = new Map<string, Set<string>>();
      for (const { after, name, ids, look } of steps) {
        const at = now + after;
        now = Math.max(now, at);
        table.append({
          seq: table.length + 1,
          kind: 'event',
          name,
          sourceId: 's',
          release: '',
          occurredAt: at * MINUTE,
          ids,
          properties: {},
        });
        const devices = [ids.device, ids.kiosk].filter((d) => d !== undefined);
        const isKnown = devices.some((d) => (several.get(d)?.size ?? 0) > 1);
        for (const d of devices) if (ids.user && ids.user !== 'null') several.set(d, (several.get(d) ?? new Set()).add(ids.user));
        if (!look) continue;
        living.follow();
        const value = living.persons();
        expect(plain(value)).toEqual({ ...plain(resolvePersons(table, all)), lineage: value.lineage });
        if (before?.lineage === value.lineage)
          expect(value.personOfMessage.subarray(0, before.personOfMessage.length)).toEqual(before.personOfMessage);
        if (isKnown && before) {
          ofSeveral++;
          if (before.lineage === value.lineage) kept++;
        }
        before = value;
      }
    }),
    { seed: 3, numRuns: 800 },
  );
  // Some end one: a link between two who were there, a guard that speaks, a message that comes late.
  expect(kept / ofSeveral).toBeGreaterThan(0.25);
});

test('on a device that many people sign in on, what comes in order changes nobody, and costs no look back', () => {
  const table = new MessageTable();
  const living = new LivingPersons(table, RULES);
  const send = (minute: number, user?: string) =>
    table.append({ seq: table.length + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: minute * MINUTE, ids: { device: 'kiosk', ...(user ? { user } : {}) }, properties: {} }); // prettier-ignore
  for (let i = 0; i < 40; i++) send(i, i % 2 ? undefined : `u${i}`);
  living.follow();
  const { lineage } = living.persons();
  for (let i = 40; i < 400; i++) {
    send(i, i % 3 ? undefined : `u${((i * 7) % 40) & ~1}`);
    living.follow();
    expect(living.persons().lineage).toBe(lineage);
  }
  // One that comes late is of whoever was signed in then, which ends it where that changes those behind it.
  send(0.5, 'u6');
  living.follow();
  const late = living.persons();
  expect(late.lineage).not.toBe(lineage);
  expect(late.personOfMessage).toEqual(resolvePersons(table, RULES).personOfMessage);
  expect(late.personOfMessage[1]).toBe(late.personOfMessage[6]);
  expect(late.personOfMessage[1]).not.toBe(late.personOfMessage[0]);
});
