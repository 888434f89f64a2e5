/** Stretches that are signed in, followed message by message, against a plain reading of the definition over all messages. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { signedInStretches } from '../../../src/core/identity/signed-in';
import { MessageTable } from '../../../src/core/table/message-table';
import { RULES } from '../../build/messages';

const MINUTE = 60_000;
const GAP = 30 * MINUTE;

interface M {
  readonly at: number;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  readonly page: string;
  readonly ids: Record<string, string>;
}

const plainly = (all: readonly M[], shared: readonly string[]) => {
  const devices = new Map<string, M[]>();
  for (const m of all) {
    if (m.sourceId === 'server' || m.name === '') continue;
    const kind = ['anonymous', 'device'].find((k) => m.ids[k] !== undefined && !shared.includes(`${k} ${m.ids[k]}`));
    if (kind === undefined) continue;
    const key = `${kind} ${m.ids[kind]!}`;
    devices.set(key, [...(devices.get(key) ?? []), m]);
  }
  const releases: Record<string, { dropped: number; messages: number }> = {};
  let [late, pages] = [0, 0];
  for (const list of devices.values()) {
    const sorted = list.map((m, i) => ({ m, i })).sort((a, b) => a.m.at - b.m.at || a.i - b.i); // prettier-ignore
    let [signedIn, last] = [false, -Infinity];
    let page: { at: string; first: boolean; seen: boolean } | undefined;
    const close = (): void => {
      if (!page?.seen) return;
      pages++;
      if (!page.first) late++;
    };
    for (const { m } of sorted) {
      const user = m.ids['user'];
      const has = user !== undefined && user !== 'null';
      if (m.at - last > GAP) {
        signedIn = false;
        close();
        page = undefined;
      }
      last = m.at;
      if (m.page !== '' && m.page !== page?.at) {
        close();
        page = { at: m.page, first: has, seen: has };
      } else if (page && has) page.seen = true;
      if (user !== undefined) signedIn = true;
      if (signedIn) {
        const own = (releases[`${m.sourceId} ${m.release}`] ??= { dropped: 0, messages: 0 });
        own.messages++;
        if (!has) own.dropped++;
      }
      if (m.name === 'Out') signedIn = false;
    }
    close();
  }
  return { releases, latePages: { late, pages } };
};

const message = fc.record({
  step: fc.oneof(
    { weight: 6, arbitrary: fc.nat(40 * MINUTE) },
    { weight: 3, arbitrary: fc.nat(MINUTE) },
    { weight: 2, arbitrary: fc.integer({ min: -90 * MINUTE, max: 0 }) },
  ),
  name: fc.constantFrom('E', 'E', 'E', 'Out', ''),
  sourceId: fc.constantFrom('web', 'web', 'phone', 'server'),
  release: fc.constantFrom('1', '2'),
  page: fc.constantFrom('', '/a', '/a', '/b'),
  ids: fc.record(
    { anonymous: fc.constantFrom('1', '2', 'kiosk'), device: fc.constantFrom('1', '2'), user: fc.constantFrom('m', 'n', 'null') },
    { requiredKeys: [] },
  ),
});

test('whatever comes in which order', () => {
  let [dropped, late] = [0, 0];
  fc.assert(
    fc.property(fc.array(message, { maxLength: 40 }), fc.array(fc.nat(6), { maxLength: 10 }), fc.boolean(), (drawn, pieces, kiosk) => {
      let at = 1000 * MINUTE;
      const all = drawn.map(({ step, ...m }): M => ({ ...m, at: (at = Math.max(0, at + step)) }));
      const table = new MessageTable();
      for (const n of [...pieces, all.length]) {
        for (let i = 0; i < n && table.length < all.length; i++) {
          const m = all[table.length]!;
          table.append({ ...m, seq: table.length + 1, kind: m.name === '' ? 'identify' : 'event', occurredAt: m.at, properties: {} });
        }
        const shared = kiosk ? [table.nodes.find('anonymous', 'kiosk')].filter((x) => x >= 0) : [];
        const found = signedInStretches(table, ['server'], shared, GAP, { ...RULES, signOutEvents: ['Out'] });
        const expected = plainly(all.slice(0, table.length), kiosk ? ['anonymous kiosk'] : []);
        const lacking = Object.entries(expected.releases).filter(([, r]) => r.dropped > 0);
        expect(
          Object.fromEntries(found.dropped.map((d) => [`${d.sourceId} ${d.release}`, { dropped: d.dropped, messages: d.messages }])),
        ).toEqual(Object.fromEntries(lacking));
        for (const d of found.dropped) expect(d.rows.size).toBe(d.dropped);
        expect(found.latePages).toEqual(expected.latePages);
        expect(found.signedIn.messages).toBe(Object.values(expected.releases).reduce((n, r) => n + r.messages, 0));
        dropped += lacking.length;
        late += found.latePages.late;
      }
    }),
    { seed: 17, numRuns: 1500 },
  );
  expect(dropped).toBeGreaterThan(1000);
  expect(late).toBeGreaterThan(300);
});
