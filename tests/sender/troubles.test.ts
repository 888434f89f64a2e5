/** What a sender meets: outages, refusals, applications that change what they gave or give what cannot be said. Nothing is lost, nothing comes twice for want
 *  of patience, and nothing reaches the application.
 */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, test, vi } from 'vitest';
import { retryAfterMs } from '../../packages/sender/src/delivery';
import { createSender } from '../../packages/sender/src/index';
import { plain, texts } from '../../packages/sender/src/plain';
import { eventually, settled } from '../build/wait';
import { FakeIntake, type Reply } from './fake-intake';
import { withIntake } from './with-intake';

const at = withIntake({ waitMs: 1 });
const { sender, names } = at;
let intake: FakeIntake;
beforeEach(() => void (intake = at.intake));
afterEach(() => void vi.useRealTimers());
const numbered = (n: number): string[] => Array.from({ length: n }, (_, i) => String(i));

describe('an outage', () => {
  it('with more waiting than a batch: not one request before the time that was asked for, whatever comes meanwhile', async () => {
    intake.replies = [{ status: 503, retryAfter: '30' }];
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const s = sender({ batch: 10 });
    for (const name of numbered(10)) s.event(name);
    await eventually(() => expect(intake.requests).toHaveLength(1));
    await settled();
    for (let second = 0; second < 29; second++) {
      for (let i = 0; i < 5; i++) s.event('meanwhile');
      await s.flush();
      vi.advanceTimersByTime(1000);
      await settled();
    }
    expect(intake.requests).toHaveLength(1);
    vi.advanceTimersByTime(1000);
    await eventually(() => expect(s.waiting).toBe(0));
    expect(intake.taken).toHaveLength(10 + 29 * 5);
    expect(names().slice(0, 10)).toEqual(numbered(10));
    expect(intake.duplicates).toBe(0);
  });

  it('without a word how long: its own pauses, which grow, are kept beside any number of events', async () => {
    intake.replies = Array.from({ length: 6 }, (): Reply => 'cut');
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const s = sender({ batch: 5 });
    for (const name of numbered(5)) s.event(name);
    await eventually(() => expect(intake.requests).toHaveLength(1));
    await settled();
    const after = async (ms: number, requests: number): Promise<void> => {
      vi.advanceTimersByTime(ms);
      await eventually(() => expect(intake.requests).toHaveLength(requests));
      await settled();
    };
    // The first pause is half a second at least and one at most, the second one at least.
    for (const [ms, requests] of [
      [499, 1],
      [501, 2],
      [999, 2],
    ] as const) {
      // prettier-ignore
      for (let i = 0; i < 200; i++) s.event('more');
      await after(ms, requests);
    }
    expect(intake.requests).toHaveLength(2);
  });

  test('a pause may be told in seconds or as a date, which is read by the clock of whoever wrote it (RFC 9110, 10.2.3 and its examples)', () => {
    expect(retryAfterMs('120', null)).toBe(120_000);
    expect(retryAfterMs('Fri, 31 Dec 1999 23:59:59 GMT', 'Fri, 31 Dec 1999 23:59:29 GMT')).toBe(30_000);
    expect(retryAfterMs('Fri, 31 Dec 1999 23:59:59 GMT', 'Sat, 01 Jan 2000 00:00:29 GMT')).toBe(0);
    expect(retryAfterMs('Fri, 31 Dec 1999 23:59:59 GMT', null)).toBe(0);
    expect(retryAfterMs('Fri, 31 Dec 2100 23:59:59 GMT', null)).toBe(3_600_000);
    for (const nothing of [null, '', 'soon', '-1', 'tomorrow']) expect(retryAfterMs(nothing, null)).toBeUndefined();
    expect(retryAfterMs('999999', null)).toBe(3_600_000);
  });
});

describe('what the intake will not take', () => {
  it('does not hold up the rest: all others come, once and in order, and it is let go with word of it', async () => {
    intake.refuses = (m) => m.name === 'bad';
    const troubles: string[] = [];
    const s = sender({ batch: 8, waitMs: 60_000, onTrouble: (why) => troubles.push(why) });
    for (const name of ['0', '1', 'bad', '2', '3', '4', 'bad', '5']) s.event(name);
    await s.flush();
    for (let i = 0; i < 5 && s.waiting > 0; i++) {
      s.event(`later ${i}`);
      await s.flush();
    }
    expect(names().filter((n) => !n!.startsWith('later'))).toEqual(numbered(6));
    expect(s.waiting).toBe(0);
    expect(intake.duplicates).toBe(0);
    expect(troubles.filter((t) => t.startsWith('A message was let go.'))).toHaveLength(2);
  });

  it('where all is refused, it may be the intake: nothing is let go, and it comes again after a pause', async () => {
    intake.refuses = () => true;
    const s = sender({ batch: 4, waitMs: 60_000 });
    for (const name of numbered(4)) s.event(name);
    await s.flush();
    await s.flush();
    expect(s.waiting).toBe(4);
    intake.refuses = () => false;
    await s.flush();
    expect([...names()].sort()).toEqual(numbered(4));
    expect(s.waiting).toBe(0);
  });
});

describe('every trouble, and their combinations', () => {
  const reply = fc.constantFrom<Reply>('take', 'cut', 'take, answer lost', { status: 503 }, { status: 429, retryAfter: '0' }, { status: 401 }, { status: 500 }, { status: 404 }); // prettier-ignore
  it('at random: each message that is not refused is taken once, in order, as it was when it was given', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(reply, { maxLength: 14 }),
        fc.array(fc.boolean(), { minLength: 1, maxLength: 25 }),
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 8 }),
        async (replies, isBad, batch, room) => {
          const own = await new FakeIntake().start();
          own.replies = [...replies];
          own.maxMessages = room;
          own.refuses = (m) => m.properties?.['bad'] === true;
          const s = createSender({ endpoint: own.endpoint, key: 'k', storage: 'none', waitMs: 1, batch, onTrouble: () => { throw new Error('of the application'); }, onAnswer: () => { throw new Error('of the application'); } }); // prettier-ignore
          const given: { n: number; bad: boolean } = { n: 0, bad: false };
          isBad.forEach((bad, n) => {
            // A few in a hundred, and the same object each time.
            Object.assign(given, { n, bad: bad && n % 5 === 0 });
            s.event('E', given);
          });
          for (let i = 0; i < 80 && s.waiting > 0; i++) {
            if (i % 7 === 6) s.event('E', { n: 1000 + i, bad: false });
            await s.flush();
          }
          const good = isBad.flatMap((bad, n) => (bad && n % 5 === 0 ? [] : [n]));
          expect(own.taken.map((m) => m.properties?.['n'] as number).filter((n) => n < 1000)).toEqual(good);
          expect(new Set(own.taken.map((m) => m.id)).size).toBe(own.taken.length);
          await s.stop();
          own.stop();
        },
      ),
      { numRuns: 30, seed: 5 },
    );
  });
});

describe('what an application gives', () => {
  it('is as it was at the call, also the second time', async () => {
    intake.replies = ['take, answer lost', 'cut'];
    const given = { n: 1, list: [1], inner: { text: 'then' } };
    const user = { tier: 'basic' };
    const s = sender({ waitMs: 60_000 });
    s.event('E', given, { userProperties: user, marks: ['test'] });
    given.n = 2;
    given.list.push(2);
    given.inner.text = 'now';
    user.tier = 'gold';
    await s.flush();
    given.n = 3;
    for (let i = 0; i < 4 && s.waiting > 0; i++) await s.flush();
    expect(intake.requests.length).toBeGreaterThan(1);
    for (const [m] of intake.requests)
      expect([m!.properties, m!.user_properties]).toEqual([{ n: 1, list: [1], inner: { text: 'then' } }, { tier: 'basic' }]); // prettier-ignore
  });

  test('what cannot be said is left out, and the rest is sent', () => {
    const circle: Record<string, unknown> = { name: 'c' };
    circle['self'] = circle;
    const given = {
      big: 12n,
      beyond: 2n ** 70n,
      circle,
      nan: NaN,
      endless: Infinity,
      when: new Date('2026-01-02T03:04:05Z'),
      never: new Date(NaN),
      work: () => 1,
      sign: Symbol('s'),
      nothing: null,
      missing: undefined,
      list: [1, undefined, NaN, [2n]],
      get throws(): string {
        throw new Error('of the application');
      },
      json: { toJSON: () => ({ said: 1 }) },
      badJson: {
        toJSON: () => {
          throw new Error('of the application');
        },
      },
    };
    expect(plain(given)).toEqual({ big: 12, beyond: String(2n ** 70n), circle: { name: 'c' }, when: '2026-01-02T03:04:05.000Z', never: null, nothing: null, list: [1, null, null, [2]], json: { said: 1 } }); // prettier-ignore
    expect(plain(JSON.parse('{"__proto__":{"a":1}}'))).toEqual(JSON.parse('{"__proto__":{"a":1}}'));
    for (const none of [undefined, null, 5, 'text', [1], () => 1]) expect(plain(none)).toBeUndefined();
    expect(texts({ a: 1, b: 'x', c: null, d: {}, e: true, f: undefined })).toEqual({ a: '1', b: 'x', e: 'true' });
    expect(texts(undefined)).toEqual({});
    // The same object twice is no circle; what lies so deep that nothing can say it is left out.
    const twice = { v: 1 };
    expect(plain({ a: twice, b: [twice] })).toEqual({ a: { v: 1 }, b: [{ v: 1 }] });
    let deep: object = {};
    for (let i = 0; i < 100_000; i++) deep = { deep };
    expect(plain({ deep, n: 1 })).toEqual({ n: 1 });
  });

  test('whatever JSON can say stays as it is', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue({ maxDepth: 5 })), (v) => {
        expect(JSON.stringify(plain(v))).toBe(JSON.stringify(v));
      }),
    );
  });

  it('never throws, whatever is given and whatever its callbacks do', async () => {
    const s = sender({
      now: () => {
        throw new Error('of the application');
      },
      debug: () => {
        throw new Error('of the application');
      },
      onAnswer: () => {
        throw new Error('of the application');
      },
      onTrouble: () => {
        throw new Error('of the application');
      },
      ids: { device: 5n as unknown as string },
      waitMs: 60_000,
    });
    const any = s as unknown as Record<'event' | 'view' | 'identify' | 'interaction', (...given: unknown[]) => void>;
    for (const odd of [undefined, null, 5, 5n, NaN, {}, [], Symbol('x'), new Date(NaN)]) {
      any.event(odd, odd, odd);
      any.event('E', odd, { at: odd, page: odd, ids: odd, marks: odd, userProperties: odd });
      any.view(odd, odd, odd);
      any.identify(odd, odd);
      any.interaction(odd, odd);
    }
    s.event('At odd times', {}, { at: 9e15 });
    intake.replies = ['cut'];
    for (let i = 0; i < 5 && s.waiting > 0; i++) await s.flush();
    expect(s.waiting).toBe(0);
    const at = intake.taken.find((m) => m.name === 'At odd times')!;
    expect(Math.abs(Date.parse(at.time) - Date.now())).toBeLessThan(600_000);
    expect(intake.taken.length).toBeGreaterThan(20);
    for (const m of intake.taken) for (const v of Object.values(m.ids)) expect(typeof v).toBe('string');
  });
});

describe('what another page left', () => {
  const storage = (): Storage => {
    const kept = new Map<string, string>();
    return {
      get length() {
        return kept.size;
      },
      clear: () => kept.clear(),
      getItem: (k: string) => kept.get(k) ?? null,
      key: (i: number) => [...kept.keys()][i] ?? null,
      removeItem: (k: string) => void kept.delete(k),
      setItem: (k: string, v: string) => void kept.set(k, v),
    };
  };
  /** A page that goes while its requests are on their way: what it kept stays, and it hears nothing more. */
  const pageThatGoes = async (shared: Storage, events: readonly string[], arrives: boolean): Promise<void> => {
    const own = storage();
    const s = sender({ storage: own, waitMs: 60_000 });
    for (const name of events) s.event(name);
    for (let i = 0; i < own.length; i++) shared.setItem(own.key(i)!, own.getItem(own.key(i)!)!);
    if (arrives) await s.flush();
    at.forget(s);
  };

  it('is asked for first: what arrived is not sent again, the rest is, before all else and in order', async () => {
    const shared = storage();
    await pageThatGoes(shared, ['a', 'b'], true);
    await pageThatGoes(shared, ['c', 'd'], false);
    const next = sender({ storage: shared });
    next.event('e');
    await eventually(() => expect(next.waiting).toBe(0));
    expect([names(), intake.duplicates, intake.askedFor.length]).toEqual([['a', 'b', 'c', 'd', 'e'], 0, 1]);
    expect(shared.length === 0 || [...Array(shared.length).keys()].every((i) => !shared.key(i)!.includes('queue'))).toBe(true);
  });

  it('waits where the intake cannot answer now, and is asked about again', async () => {
    const shared = storage();
    await pageThatGoes(shared, ['a', 'b'], true);
    intake.says = 'not now';
    const next = sender({ storage: shared, now: () => Date.now() });
    await eventually(() => expect(intake.askedFor).toHaveLength(1));
    await settled();
    expect(next.waiting).toBe(2);
    intake.says = 'what it has';
    await next.flush();
    expect([next.waiting, intake.duplicates, intake.requests.length]).toEqual([0, 0, 1]);
  });

  it('is sent all the same where an intake does not know the question', async () => {
    intake.says = 'nothing of it';
    const shared = storage();
    await pageThatGoes(shared, ['a', 'b'], true);
    await pageThatGoes(shared, ['c'], false);
    const next = sender({ storage: shared });
    await eventually(() => expect(next.waiting).toBe(0));
    expect([names(), intake.duplicates]).toEqual([['a', 'b', 'c'], 2]);
  });

  it('of nobody: nothing is asked', async () => {
    const s = sender({ storage: storage() });
    s.event('a');
    await eventually(() => expect(s.waiting).toBe(0));
    expect(intake.askedFor).toEqual([]);
  });
});
