/** What waits to be sent: in order, bounded, kept where it outlives the page, and taken over whole. Held against a plain list, at random. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Queue } from '../../packages/sender/src/queue';
import { memoryStore, type Store } from '../../packages/sender/src/store';
import type { WireMessage } from '../../packages/sender/src/wire';

const message = (n: number): WireMessage => ({ id: String(n).padStart(6, '0'), name: `E ${n}`, time: '', ids: {}, properties: {} }) as unknown as WireMessage; // prettier-ignore
const NONE: ReadonlySet<string> = new Set();
const PREFIX = 'p/queue/';
const idsIn = (q: Queue): string[] => q.head(Infinity, Infinity, NONE).map((m) => m.id);
const keptIn = (s: Store, lane: string): string[] => s.keys(`${PREFIX}${lane}/`).map((k) => k.split('/').at(-1)!).sort(); // prettier-ignore

describe('adoption of what another page left', () => {
  test('it goes before what waits here, in its order, and is kept under this page’s own name alone', () => {
    const store = memoryStore();
    const left = new Queue(store, PREFIX, 'left', 100);
    for (const n of [3, 1, 2]) left.add(message(n));
    const here = new Queue(store, PREFIX, 'here', 100);
    here.add(message(9));
    expect(here.lanes().sort()).toEqual(['here', 'left']);
    here.adopt('left');
    expect(idsIn(here)).toEqual(['000001', '000002', '000003', '000009']);
    expect([keptIn(store, 'left'), keptIn(store, 'here')]).toEqual([[], ['000001', '000002', '000003', '000009']]);
    // A second time there is nothing to take over, and once sent nothing is left of it.
    here.adopt('left');
    expect(here.length).toBe(4);
    here.remove(here.head(3, Infinity, NONE));
    expect([idsIn(here), keptIn(store, 'here')]).toEqual([['000009'], ['000009']]);
  });

  test('its own lane is read again after a reload, and what it has already is not doubled', () => {
    const store = memoryStore();
    const before = new Queue(store, PREFIX, 'lane', 100);
    for (const n of [1, 2]) before.add(message(n));
    const after = new Queue(store, PREFIX, 'lane', 100);
    after.adopt('lane');
    after.adopt('lane');
    expect([idsIn(after), keptIn(store, 'lane')]).toEqual([['000001', '000002'], ['000001', '000002']]); // prettier-ignore
    const again = new Queue(store, PREFIX, 'other', 100);
    again.add(message(2));
    again.adopt('lane');
    expect(idsIn(again)).toEqual(['000001', '000002']);
    expect(keptIn(store, 'lane')).toEqual([]);
  });

  test('what was cut off, or is no message, is thrown away; what the store does not take on is in memory', () => {
    const store = memoryStore();
    store.write(`${PREFIX}left/1`, '{"id":"x","na');
    store.write(`${PREFIX}left/2`, '{"name":"without an ID"}');
    store.write(`${PREFIX}left/3`, JSON.stringify(message(3)));
    const full: Store = { ...store, write: () => false };
    const here = new Queue(full, PREFIX, 'here', 100);
    here.adopt('left');
    expect(idsIn(here)).toEqual(['000003']);
    expect([keptIn(store, 'left'), keptIn(store, 'here')]).toEqual([[], []]);
    here.remove([message(3)]);
    expect(here.length).toBe(0);
  });
});

test('a head has at most so many messages and characters, and one where any waits', () => {
  const q = new Queue(memoryStore(), PREFIX, 'a', 100);
  for (const n of [1, 2, 3]) q.add(message(n));
  const one = JSON.stringify(message(1)).length + 1;
  expect(q.head(2, Infinity, NONE)).toHaveLength(2);
  expect(q.head(9, 2 * one, NONE)).toHaveLength(2);
  expect(q.head(9, 2 * one - 1, NONE)).toHaveLength(1);
  expect(q.head(9, 0, NONE)).toHaveLength(1);
  expect(new Queue(memoryStore(), PREFIX, 'a', 100).head(9, 9, NONE)).toEqual([]);
});

test('adding, sending, clearing and adopting in any order: as a plain list does it; the store holds just what waits', () => {
  const step = fc.oneof(
    fc.record({ does: fc.constant('add' as const), n: fc.nat(60) }),
    fc.record({ does: fc.constant('remove' as const), n: fc.nat(4) }),
    fc.record({ does: fc.constant('leave' as const), n: fc.nat(60) }),
    fc.record({ does: fc.constant('adopt' as const), n: fc.constant(0) }),
    fc.record({ does: fc.constant('clear' as const), n: fc.constant(0) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), fc.integer({ min: 1, max: 6 }), (steps, bound) => {
      const store = memoryStore();
      const q = new Queue(store, PREFIX, 'here', bound);
      let left = new Queue(store, PREFIX, 'left', 100);
      let list: string[] = [];
      let dropped = 0;
      for (const { does, n } of steps) {
        const m = message(n);
        // An ID is given once.
        if (does === 'add' && !list.includes(m.id)) {
          q.add(m);
          list.push(m.id);
          while (list.length > bound) {
            list.shift();
            dropped++;
          }
        } else if (does === 'remove') {
          q.remove(q.head(n, Infinity, NONE));
          list = list.slice(n);
        } else if (does === 'leave') left.add(m);
        else if (does === 'clear') {
          expect(q.takeOut(() => true).map((m) => m.id)).toEqual(list);
          list = [];
        } else if (does === 'adopt') {
          const taken = [...new Set(idsIn(left))].filter((id) => !list.includes(id)).sort();
          q.adopt('left');
          list = [...taken, ...list];
          left = new Queue(store, PREFIX, 'left', 100);
        }
        expect([idsIn(q), q.length, q.dropped]).toEqual([list, list.length, dropped]);
        expect(keptIn(store, 'here')).toEqual([...list].sort());
      }
    }),
    { numRuns: 200 },
  );
});
