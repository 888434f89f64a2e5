import fc from 'fast-check';
import { validate, version } from 'uuid';
import { beforeEach, describe, expect, it, test, vi } from 'vitest';
import { createSender, messageId } from '../../packages/sender/src/index';
import { backoffMs } from '../../packages/sender/src/delivery';
import type { PageStorage } from '../../packages/sender/src/store';
import { FakeIntake } from './fake-intake';
import { withIntake } from './with-intake';
import { eventually, settled, until } from '../build/wait';

const at = withIntake({ waitMs: 1 });
const { sender, names } = at;
let intake: FakeIntake;
beforeEach(() => void (intake = at.intake));

/** A browser's storage, which takes so many characters. */
const storage = (room = Infinity): PageStorage & { readonly all: Map<string, string> } => {
  const all = new Map<string, string>();
  const used = (): number => [...all].reduce((n, [k, v]) => n + k.length + v.length, 0);
  return {
    all,
    get length() {
      return all.size;
    },
    key: (i) => [...all.keys()][i] ?? null,
    getItem: (k) => all.get(k) ?? null,
    setItem(k, v) {
      if (used() - (all.get(k)?.length ?? 0) + v.length > room) throw new Error('QuotaExceededError');
      all.set(k, v);
    },
    removeItem: (k) => void all.delete(k),
  };
};

describe('message IDs', () => {
  it('are UUIDs of version 7 whose first 48 bits are the time (RFC 9562, 5.7; read by the package uuid)', () => {
    fc.assert(
      fc.property(fc.integer({ min: Date.UTC(2030, 0, 1), max: Date.UTC(2100, 0, 1) }), (now) => {
        const id = messageId(now);
        expect([validate(id), version(id)]).toEqual([true, 7]);
        expect(parseInt(id.replaceAll('-', '').slice(0, 12), 16)).toBeGreaterThanOrEqual(now);
      }),
    );
  });
  it('sort in the order in which they were made, however fast, and when the clock goes back', () => {
    const made = Array.from({ length: 20_000 }, (_, i) => messageId(i % 3 === 0 ? 5 : Date.UTC(2101, 0, 1)));
    expect([...made].sort()).toEqual(made);
    expect(new Set(made).size).toBe(made.length);
  });
});

describe('delivery', () => {
  it('keeps the order, and sends again under the same ID whatever goes wrong', async () => {
    intake.replies = ['cut', { status: 503 }, 'take, answer lost', { status: 429, retryAfter: '0' }, { status: 500 }];
    const s = sender({ batch: 3 });
    for (let i = 0; i < 10; i++) s.event(`Crate ${i}`, { n: i });
    for (let i = 0; i < 12 && s.waiting > 0; i++) await s.flush();
    expect(names()).toEqual(Array.from({ length: 10 }, (_, i) => `Crate ${i}`));
    // What was taken and never answered came again, and was known by its ID.
    expect(intake.duplicates).toBe(3);
    expect(new Set(intake.taken.map((m) => m.id)).size).toBe(10);
  });

  it('at random: each message is taken once, in order', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom('take' as const, 'cut' as const, 'take, answer lost' as const, { status: 503 }), { maxLength: 12 }),
        fc.integer({ min: 1, max: 25 }),
        fc.integer({ min: 1, max: 7 }),
        async (replies, count, batch) => {
          const own = await new FakeIntake().start();
          own.replies = [...replies];
          const s = createSender({ endpoint: own.endpoint, key: 'k', storage: 'none', waitMs: 1, batch });
          for (let i = 0; i < count; i++) s.event(String(i));
          for (let i = 0; i < 40 && s.waiting > 0; i++) await s.flush();
          expect(own.taken.map((m) => m.name)).toEqual(Array.from({ length: count }, (_, i) => String(i)));
          await s.stop();
          own.stop();
        },
      ),
      { numRuns: 25 },
    );
  });

  it('waits as long as it is asked to', async () => {
    intake.replies = [{ status: 429, retryAfter: '1' }];
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    try {
      const s = sender();
      s.event('Crate Moved');
      await s.flush();
      expect(intake.requests).toHaveLength(1);
      vi.advanceTimersByTime(999);
      await settled();
      expect(intake.requests).toHaveLength(1);
      vi.advanceTimersByTime(1);
      await eventually(() => expect(names()).toEqual(['Crate Moved']));
    } finally {
      vi.useRealTimers();
    }
  });

  it('cuts a batch that is too large, and lets go of a single message that is, with word of it', async () => {
    intake.maxMessages = 2;
    const troubles: string[] = [];
    const s = sender({ batch: 8, onTrouble: (why) => troubles.push(why) });
    for (let i = 0; i < 8; i++) s.event(String(i));
    await s.flush();
    expect(names()).toEqual(['0', '1', '2', '3', '4', '5', '6', '7']);
    intake.maxMessages = 0;
    s.event('huge');
    await s.flush();
    expect(s.waiting).toBe(0);
    expect(troubles).toEqual(['A message was let go. Too large.']);
  });

  it('takes a rejection as an answer: it is not sent again', async () => {
    intake.replies = ['reject'];
    const s = sender();
    s.event('Crate Moved');
    await s.flush();
    expect(s.waiting).toBe(0);
    expect(intake.requests).toHaveLength(1);
  });

  test('waits grow, stay within a minute, and are spread', () => {
    for (let attempt = 0; attempt < 20; attempt++) {
      const [least, most] = [backoffMs(attempt, 0), backoffMs(attempt, 1)];
      expect(least).toBe(most / 2);
      expect(most).toBeLessThanOrEqual(60_000);
      expect(most).toBeGreaterThanOrEqual(backoffMs(Math.max(0, attempt - 1), 1));
    }
  });
});

describe('what waits', () => {
  it('outlives the page, is taken over by the next one, and goes before what is new', async () => {
    const kept = storage();
    intake.replies = ['cut', 'cut', 'cut'];
    const first = createSender({ endpoint: intake.endpoint, key: 'wk_test_key', storage: kept, waitMs: 60_000 });
    first.event('before 1');
    first.event('before 2');
    await first.flush();
    expect(kept.all.size).toBeGreaterThanOrEqual(2);
    await first.stop();
    intake.replies = [];
    const second = sender({ storage: kept, waitMs: 60_000 });
    await until('taking over', () => second.waiting >= 2);
    second.event('after');
    await second.flush();
    expect(names()).toEqual(['before 1', 'before 2', 'after']);
    expect([...kept.all.keys()].filter((k) => k.includes('/queue/'))).toEqual([]);
    // The anonymous ID is the same visitor's.
    expect(new Set(intake.taken.map((m) => m.ids['anonymous'])).size).toBe(1);
  });

  it('is in memory where the storage is full, and still sent', async () => {
    const s = sender({ storage: storage(200) });
    for (let i = 0; i < 20; i++) s.event(String(i), { text: 'x'.repeat(100) });
    await s.flush();
    expect(names()).toHaveLength(20);
  });

  it('has a bound: the oldest goes, and the next message says how many did', async () => {
    intake.replies = ['cut'];
    const s = sender({ maxWaiting: 5, waitMs: 60_000 });
    for (let i = 0; i < 8; i++) s.event(String(i));
    s.event('last');
    await s.flush();
    await s.flush();
    expect(names()).toEqual(['4', '5', '6', '7', 'last']);
    // Three were let go before the last one was made; the fourth by the last one itself.
    expect(intake.taken.at(-1)!.dropped_before).toBe(1);
    expect(intake.taken.reduce((n, m) => n + (m.dropped_before ?? 0), 0) + 1).toBeGreaterThanOrEqual(3);
  });

  it('leaves out what was cut off in the storage', async () => {
    const kept = storage();
    kept.setItem('signal-post/test_key/queue/old/1', '{"id":"x","ki');
    const s = sender({ storage: kept });
    s.event('whole');
    await eventually(() => expect(names()).toEqual(['whole']));
  });
});

describe('who it was', () => {
  it('is anonymous, then known, then another', async () => {
    const s = sender({ idKinds: { anonymous: 'visitor', user: 'member' }, ids: { device: 'd-1' } });
    s.event('a');
    s.identify('m-7', { tier: 'maker' });
    s.event('b');
    s.signOut();
    s.event('c');
    await s.flush();
    const [a, identify, b, c] = intake.taken;
    expect(a!.ids).toEqual({ device: 'd-1', visitor: expect.any(String) as string });
    expect(identify).toMatchObject({
      kind: 'identify',
      user_properties: { tier: 'maker' },
      ids: { visitor: a!.ids['visitor'], member: 'm-7' },
    });
    expect(b!.ids).toEqual({ ...a!.ids, member: 'm-7' });
    expect(c!.ids['member']).toBeUndefined();
    expect(c!.ids['visitor']).not.toBe(a!.ids['visitor']);
  });

  it('is set without an event of its own where it is only found again', async () => {
    const s = sender();
    s.identify('m-7', undefined, true);
    s.event('a');
    await s.flush();
    expect(intake.taken.map((m) => [m.kind, m.ids['user']])).toEqual([['event', 'm-7']]);
  });
});

describe('consent', () => {
  it('keeps and sends nothing before a yes; then all of it, under one anonymous ID', async () => {
    const kept = storage();
    const s = sender({ consent: 'unknown', storage: kept });
    s.event('before');
    s.identify('m-1');
    await s.flush();
    expect([intake.requests.length, kept.all.size]).toEqual([0, 0]);
    s.consent('granted');
    s.event('after');
    await s.flush();
    expect(intake.taken.map((m) => [m.name, m.consent])).toEqual([
      ['before', 'granted'],
      [undefined, 'granted'],
      ['after', 'granted'],
    ]);
    expect(new Set(intake.taken.map((m) => m.ids['anonymous'])).size).toBe(1);
    expect(intake.taken.at(-1)!.ids['user']).toBe('m-1');
  });

  it('after a no, nothing is sent, nothing is left on the device, and a later yes is somebody new', async () => {
    const kept = storage();
    const s = sender({ consent: 'granted', storage: kept, waitMs: 60_000 });
    s.event('a');
    const before = s.anonymousId;
    s.consent('denied');
    s.event('b');
    await s.flush();
    expect(intake.requests).toHaveLength(0);
    expect([...kept.all.keys()].filter((k) => !k.endsWith('clock'))).toEqual([]);
    s.consent('granted');
    s.event('c');
    await s.flush();
    expect(names()).toEqual(['c']);
    expect(intake.taken[0]!.ids['anonymous']).not.toBe(before);
  });
});

describe('what a message carries', () => {
  it('release, environment, plan, page, marks; times as they are told', async () => {
    const s = sender({ release: '9.1', environment: 'staging', plan: { version: 4, hash: 'abc' } });
    s.view('/tools/drill');
    s.event('Tool Viewed', { n: 1 }, { marks: ['test'], userProperties: { tier: 'maker' }, at: Date.UTC(2026, 2, 1) });
    await s.flush();
    expect(intake.taken[1]).toMatchObject({
      kind: 'event',
      time: '2026-03-01T00:00:00.000Z',
      release: '9.1',
      environment: 'staging',
      plan: { version: 4, hash: 'abc' },
      page: '/tools/drill',
      marks: ['test'],
      user_properties: { tier: 'maker' },
      properties: { n: 1 },
    });
  });

  it('a milestone once on a page view, and again on the next', async () => {
    const s = sender();
    const reach = (share: number): void => s.event('Guide Read', { share }, { oncePerView: `Guide Read ${share}` });
    s.view('/guide/1');
    for (const share of [25, 50, 25, 75, 50]) reach(share);
    s.view('/guide/2');
    reach(25);
    await s.flush();
    expect(intake.taken.filter((m) => m.kind === 'event').map((m) => m.properties?.['share'])).toEqual([25, 50, 75, 25]);
  });

  it('its time is put right by the server’s clock, and says by how much', async () => {
    intake.aheadMs = 3 * 3_600_000;
    const kept = storage();
    const s = sender({ storage: kept });
    // The first of a device too, which cannot know yet; and it is the same when it is sent again.
    intake.replies = ['cut', 'take, answer lost'];
    const at = [Date.now()];
    s.event('first', {}, { at: at[0]! });
    for (let i = 0; i < 4 && s.waiting > 0; i++) await s.flush();
    at.push(Date.now());
    s.event('second', {}, { at: at[1]! });
    await s.flush();
    for (const [i, m] of intake.taken.entries()) {
      expect(Math.abs(m.clock_offset_ms! - 3 * 3_600_000)).toBeLessThan(2000);
      expect(Date.parse(m.time) - at[i]!).toBe(m.clock_offset_ms);
    }
    expect(intake.taken.map((m) => m.name)).toEqual(['first', 'second']);
    const firsts = intake.requests.flat().filter((m) => m.name === 'first');
    expect(firsts.length).toBe(3);
    for (const m of firsts) expect(m).toEqual(firsts[0]);
    // It is asked for once a device, whichever page.
    expect(intake.asked - intake.askedFor.length).toBe(1);
    const next = sender({ storage: kept });
    next.event('third');
    await next.flush();
    expect(intake.asked - intake.askedFor.length).toBe(1);
  });

  it('where nobody says what time it is, the first batch stays as it was, and what waits behind it is put right by the answer', async () => {
    intake.says = 'nothing of it';
    intake.aheadMs = 3_600_000;
    const s = sender({ storage: storage(), batch: 1, waitMs: 60_000 });
    s.event('first');
    s.event('second');
    await s.flush();
    expect(intake.taken.map((m) => m.clock_offset_ms !== undefined)).toEqual([false, true]);
  });

  it('a clock of the application’s own is not put right, and not asked about', async () => {
    intake.aheadMs = 3_600_000;
    const s = sender({ storage: storage(), now: () => 1_800_000_000_000 });
    s.event('first');
    await s.flush();
    expect([intake.asked, intake.taken[0]!.time, intake.taken[0]!.clock_offset_ms]).toEqual([
      0,
      new Date(1_800_000_000_000).toISOString(),
      undefined,
    ]);
  });

  it('a small difference of clocks is left alone', async () => {
    intake.aheadMs = 1500;
    const s = sender({ storage: storage() });
    s.event('first');
    await s.flush();
    s.event('second');
    await s.flush();
    expect(intake.taken.map((m) => m.clock_offset_ms)).toEqual([undefined, undefined]);
  });
});

test('in debug mode each finding goes to the console, from the check at the sender and from the intake', async () => {
  const warn = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  intake.replies = ['reject'];
  const s = sender({ debug: (m) => (m.name === 'a' ? [{ code: 'x', sentence: 'It lacks `n`.', fix: 'Send it.' }] : []) });
  s.event('a');
  await s.flush();
  const said = warn.mock.calls.map(([text]) => String(text));
  warn.mockRestore();
  expect(said).toEqual(['Signal Post, a: It lacks `n`. Send it.', 'Signal Post, a: not wanted ']);
});
