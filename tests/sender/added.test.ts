/** What is added to a sender: who is asked before a message goes, samples, purposes, people that a server sends for, a sender for tests, and what a stub kept. */
import { afterEach, describe, expect, it, test, vi } from 'vitest';
import { takeOver, type Kept } from '../../packages/sender/src/classic';
import { type Consents, type Sender, type WireMessage } from '../../packages/sender/src/index';
import { pageContext, sampling } from '../../packages/sender/src/page';
import { placeOf } from '../../packages/sender/src/sampled';
import { createTestSender } from '../../packages/sender/src/testing';
import { withIntake } from './with-intake';

const at = withIntake({ waitMs: 60_000 });
const { sender, names } = at;
afterEach(() => void vi.unstubAllGlobals());

describe('beforeSend', () => {
  it('gives back what is sent, or leaves it out; its ID and order stay', async () => {
    const seen: string[] = [];
    const s = sender({
      beforeSend: (m) => {
        seen.push(m.id);
        return m.name === 'secret' ? null : { ...m, properties: { ...m.properties, n: (m.properties!['n'] as number) + 1 } };
      },
    });
    for (const [i, name] of ['a', 'secret', 'b'].entries()) s.event(name, { n: i });
    await s.flush();
    expect(at.intake.taken.map((m) => [m.name, m.properties?.['n'], m.dropped_before])).toEqual([
      ['a', 1, undefined],
      ['b', 3, undefined],
    ]);
    expect(at.intake.taken.map((m) => m.id)).toEqual([seen[0], seen[2]]);
  });

  it.each<[string, (m: WireMessage) => unknown]>([
    ['throws', () => { throw new Error('of the application'); }],
    ['gives nothing back', () => undefined],
    ['answers later', (m) => Promise.resolve(m)],
    ['gives another message back', (m) => ({ ...m, id: 'another' })],
  ])('one that %s lets the message go, which is told and counted', async (_, beforeSend) => {
    const troubles: string[] = [];
    let first = true;
    const s = sender({
      onTrouble: (why) => troubles.push(why),
      beforeSend: (m) => {
        const odd = first;
        first = false;
        return odd ? (beforeSend(m) as WireMessage) : m;
      },
    });
    s.event('lost');
    s.event('kept');
    await s.flush();
    expect(at.intake.taken.map((m) => [m.name, m.dropped_before])).toEqual([['kept', 1]]);
    expect(troubles).toEqual([expect.stringMatching(/^A message was let go\. beforeSend: ./)]);
  }); // prettier-ignore

  it('sees what waited for a yes when that is given, once', async () => {
    const seen: [string | undefined, string | undefined][] = [];
    const s = sender({ consent: 'unknown', beforeSend: (m) => (seen.push([m.name, m.consent]), m) });
    s.event('before');
    expect(seen).toEqual([]);
    s.consent('granted');
    s.consent('unknown');
    s.consent('granted');
    await s.flush();
    expect(seen).toEqual([['before', 'granted']]);
    expect(names()).toEqual(['before']);
  });
});

describe('consent by purpose', () => {
  const told = async (
    consent: Consents | undefined,
    purpose: string | undefined,
    then: Consents[] = [],
  ): Promise<(string | undefined)[]> => {
    const s = sender({ ...(consent === undefined ? {} : { consent }), ...(purpose === undefined ? {} : { purpose }) });
    s.event('plain');
    s.event('ads', {}, { purpose: 'ads' });
    s.event('help', {}, { purpose: 'help' });
    for (const c of then) s.consent(c);
    await s.flush();
    return names();
  };
  it.each<[Consents | undefined, string | undefined, Consents[], string[]]>([
    [undefined, undefined, [], ['plain', 'ads', 'help']],
    ['granted', undefined, [], ['plain', 'ads', 'help']],
    ['unknown', undefined, [], []],
    ['unknown', undefined, ['granted'], ['plain', 'ads', 'help']],
    ['unknown', undefined, ['denied'], []],
    // What does not say its purpose needs a yes to all that were asked for.
    [{ ads: 'granted' }, undefined, [], ['plain', 'ads']],
    [{ ads: 'denied', help: 'granted' }, undefined, [], ['help']],
    [{ ads: 'unknown', help: 'granted' }, undefined, [{ ads: 'granted' }], ['help', 'plain', 'ads']],
    // Or a yes to that which is the sender's.
    [{ figures: 'granted', ads: 'denied' }, 'figures', [], ['plain']],
    [{ figures: 'granted' }, 'figures', [{ ads: 'granted' }], ['plain', 'ads']],
    [{ figures: 'unknown', help: 'granted' }, 'figures', [{ figures: 'denied' }], ['help']],
    // Somebody who says yes or no to all says it to each.
    [{ figures: 'granted', ads: 'denied' }, 'figures', ['granted'], ['plain', 'help']],
    [{}, undefined, [], []],
  ])('%j, the sender’s own %s, then %j: %j', async (consent, purpose, then, names) => {
    expect((await told(consent, purpose, then)).sort()).toEqual([...names].sort());
  }); // prettier-ignore

  it('each message says what was said to its purpose', async () => {
    const s = sender({ consent: { figures: 'granted', ads: 'unknown' }, purpose: 'figures' });
    s.event('plain');
    s.event('ads', {}, { purpose: 'ads' });
    await s.flush();
    s.consent({ ads: 'granted' });
    await s.flush();
    expect(at.intake.taken.map((m) => [m.name, m.purpose, m.consent])).toEqual([
      ['plain', 'figures', 'granted'],
      ['ads', 'ads', 'granted'],
    ]);
  });

  it('what waits for a yes while the intake’s time is learned is put right, too', async () => {
    at.intake.aheadMs = 3_600_000;
    const s = sender({ consent: { figures: 'granted', ads: 'unknown' }, purpose: 'figures' });
    s.event('ads', {}, { purpose: 'ads' });
    s.event('plain');
    await s.flush();
    s.consent({ ads: 'granted' });
    await s.flush();
    expect(names()).toEqual(['plain', 'ads']);
    for (const m of at.intake.taken) expect(Math.abs(m.clock_offset_ms! - 3_600_000)).toBeLessThan(2000);
  });

  it('what waits and is denied goes; the rest stays and is sent', async () => {
    const s = sender({ consent: { figures: 'granted', ads: 'granted' }, purpose: 'figures' });
    s.event('plain');
    s.event('ads', {}, { purpose: 'ads' });
    s.consent({ ads: 'denied' });
    await s.flush();
    expect(names()).toEqual(['plain']);
    expect(s.waiting).toBe(0);
  });

  it('what waits for a yes is bounded, and what was let go is counted', async () => {
    const s = sender({ consent: 'unknown', maxWaiting: 2 });
    for (const name of ['a', 'b', 'c']) s.event(name);
    s.consent('granted');
    s.event('d');
    s.event('e');
    await s.flush();
    // One while it waited for a yes, and one for each that came to a full queue then, told by the next.
    expect(at.intake.taken.map((m) => [m.name, m.dropped_before])).toEqual([
      ['d', 1],
      ['e', 1],
    ]);
  });
});

describe('a sender for one person, on a server', () => {
  it('carries its identifiers and no others, its own page, user and milestones, and shares the queue', async () => {
    const s = sender({ ids: { host: 'h-1' }, idKinds: { anonymous: 'visitor', user: 'member' } });
    const [ada, ben] = [s.for({ visitor: 'v-ada' }, { release: '9', marks: ['test'] }), s.for({ visitor: 'v-ben' }, { page: '/desk' })];
    ada.view('/tools');
    ada.identify('m-1', { tier: 'gold' });
    for (let i = 0; i < 2; i++) ada.event('Half Read', {}, { oncePerView: 'half' });
    ben.event('Half Read', {}, { oncePerView: 'half' });
    ben.interaction({ text: 'Ask' });
    s.event('Own');
    await s.flush();
    expect(at.intake.taken.map((m) => [m.kind, m.name, m.ids, m.page, m.release, m.marks])).toEqual([
      ['view', undefined, { host: 'h-1', visitor: 'v-ada' }, '/tools', '9', ['test']],
      ['identify', undefined, { host: 'h-1', visitor: 'v-ada', member: 'm-1' }, '/tools', '9', ['test']],
      ['event', 'Half Read', { host: 'h-1', visitor: 'v-ada', member: 'm-1' }, '/tools', '9', ['test']],
      ['event', 'Half Read', { host: 'h-1', visitor: 'v-ben' }, '/desk', undefined, undefined],
      ['interaction', undefined, { host: 'h-1', visitor: 'v-ben' }, '/desk', undefined, undefined],
      ['event', 'Own', { host: 'h-1', visitor: s.anonymousId }, undefined, undefined, undefined],
    ]);
    expect(s.userId).toBeUndefined();
  });

  it('what a person said holds for that person alone', async () => {
    const s = sender();
    for (const consent of ['denied', 'unknown', 'granted'] as const) s.for({ user: consent }, { consent }).event(consent);
    s.for({ user: 'x' }, { consent: 'denied' }).identify('x');
    await s.flush();
    expect(at.intake.taken.map((m) => [m.name, m.consent])).toEqual([['granted', 'granted']]);
    expect(s.waiting).toBe(0);
  });
});

describe('a sample', () => {
  test('places of many IDs lie evenly, and those of IDs that follow each other too', () => {
    for (const idOf of [(i: number) => `a-${i}`, (i: number) => `0199c3a0-0000-7000-8000-${String(i).padStart(12, '0')}`]) {
      const counts = new Array<number>(20).fill(0);
      const N = 20_000;
      for (let i = 0; i < N; i++) counts[Math.floor(placeOf(idOf(i)) * 20)]!++;
      // Chi-squared with 19 degrees of freedom: 43.8 is passed by one in a thousand (common table).
      expect(counts.reduce((sum, n) => sum + (n - N / 20) ** 2 / (N / 20), 0)).toBeLessThan(43.8);
    }
    for (const text of ['', 'a', 'é'.repeat(300)]) expect(placeOf(text)).toBe(placeOf(text));
  });

  it('takes the same devices each time, fewer ones inside of more, and each message says the share; identify calls all go', async () => {
    const s = sender({ with: [sampling({ 'Tool Viewed': 0.3, 'Photo Seen': 0.1 })] });
    const N = 400;
    for (let i = 0; i < N; i++) {
      const one = s.for({ visitor: `v-${i}` });
      for (const name of ['Tool Viewed', 'Photo Seen', 'Tool Lent']) one.event(name);
      one.identify(`m-${i}`);
    }
    await s.flush();
    const of = (name: string | undefined): string[] => at.intake.taken.filter((m) => m.name === name).map((m) => m.ids['visitor']!);
    const [viewed, seen] = [of('Tool Viewed'), of('Photo Seen')];
    expect(viewed).toEqual(Array.from({ length: N }, (_, i) => `v-${i}`).filter((v) => placeOf(v) < 0.3));
    expect(seen.every((v) => viewed.includes(v))).toBe(true);
    expect(seen.length).toBeGreaterThan(0);
    expect([of('Tool Lent').length, of(undefined).length]).toEqual([N, N]);
    expect(new Set(at.intake.taken.map((m) => `${m.name} ${m.sample_rate}`))).toEqual(new Set(['Tool Viewed 0.3', 'Photo Seen 0.1', 'Tool Lent undefined', 'undefined undefined'])); // prettier-ignore
  });

  it('of a page goes by its anonymous ID; all or none of its messages are sent', async () => {
    let sent = 0;
    for (let i = 0; i < 40; i++) {
      const s = createTestSender({ ids: { device: 'same' }, with: [sampling(0.5)] });
      for (let k = 0; k < 3; k++) s.event('E');
      expect(s.messages).toHaveLength(placeOf(s.anonymousId) < 0.5 ? 3 : 0);
      sent += s.messages.length;
      await s.stop();
    }
    expect(sent).toBeGreaterThan(0);
    expect(sent).toBeLessThan(120);
  });
});

describe('a page', () => {
  it('says where it was come from, without what may be about a person; what the message says goes before it', () => {
    vi.stubGlobal('document', { title: 'Drills', documentElement: { lang: 'en-GB' }, referrer: 'https://news.example/a?mail=jo@example.org#x', visibilityState: 'visible', addEventListener: () => undefined }); // prettier-ignore
    vi.stubGlobal('location', { pathname: '/tools', search: '?c=spring&mail=jo@example.org&empty=' });
    vi.stubGlobal('screen', { width: 1280, height: 800 });
    vi.stubGlobal('addEventListener', () => undefined);
    const context = pageContext({
      query: { campaign: 'c', nothing: 'none', empty: 'empty' },
      names: { page_title: 'title', screen_width: '' },
    });
    const s = createTestSender({ with: [context] });
    s.event('Tool Viewed', { title: 'my own', n: 1 });
    s.view('/tools');
    s.interaction({ text: 'x' });
    s.identify('m-1');
    const around = { page_language: 'en-GB', page_referrer: 'https://news.example/a', screen_height: 800, campaign: 'spring', empty: '' };
    expect(s.messages.map((m) => m.properties)).toEqual([
      { ...around, title: 'my own', n: 1 },
      { ...around, title: 'Drills' },
      { element: { text: 'x' } },
      undefined,
    ]);
  });

  it('an add-on that throws, or is none, changes nothing', async () => {
    const broken = () => { throw new Error('of the application'); }; // prettier-ignore
    const s = sender({ with: [broken, () => ({ each: broken, begin: broken, end: broken }), () => undefined as unknown as object] });
    s.event('a');
    await s.flush();
    expect(names()).toEqual(['a']);
  });
});

test('a sender for tests keeps what would be sent, and sends nothing', async () => {
  const fetched = vi.fn<typeof fetch>();
  vi.stubGlobal('fetch', fetched);
  const s = createTestSender({ beforeSend: (m) => (m.name === 'secret' ? null : m), consent: 'unknown' });
  const given = { n: 1 };
  s.event('Tool Viewed', given);
  s.event('secret');
  given.n = 2;
  expect(s.messages).toEqual([]);
  s.consent('granted');
  s.identify('m-1');
  await s.flush();
  expect(s.named('Tool Viewed').map((m) => m.properties)).toEqual([{ n: 1 }]);
  expect(s.messages.map((m) => m.kind)).toEqual(['event', 'identify']);
  expect([s.userId, s.waiting, fetched.mock.calls.length]).toEqual(['m-1', 0, 0]);
  s.clear();
  expect(s.messages).toEqual([]);
  await s.stop();
  expect(fetched).not.toHaveBeenCalled();
});

describe('a script without modules', () => {
  const onPage = (kept?: Kept[]) => {
    vi.stubGlobal('location', { pathname: '/now' });
    const page: { signalPost?: Record<string, unknown> & { readonly sender?: Sender } } = kept ? { signalPost: { kept } } : {};
    takeOver(page);
    return page.signalPost as Record<string, (...given: unknown[]) => unknown> & { readonly sender?: Sender };
  };
  const options = (): object => ({ endpoint: at.intake.endpoint, key: 'k', storage: 'none', waitMs: 60_000 });

  it('is told what the stub kept, as of when and where it was said', async () => {
    const from = Date.now() - 60_000;
    const post = onPage([
      ['event', from, '/before', ['early', { n: 1 }]],
      ['start', from + 1, '/before', [options()]],
      ['view', from + 2, '/now', ['/home', { v: 1 }]],
      ['event', from + 3, '/now', ['later', undefined, { at: from + 5 }]],
      ['identify', from + 4, '/now', ['m-1']],
      ['start', from + 5, '/now', [{ endpoint: 'http://127.0.0.1:9/', key: 'other' }]],
      ['nonsense', from + 6, '/now', []],
    ]);
    at.end(post.sender!);
    post['event']!('now');
    await post['flush']!();
    expect(at.intake.taken.map((m) => [m.kind, m.name, Date.parse(m.time) - from, m.page])).toEqual([
      ['event', 'early', 0, '/before'],
      ['view', undefined, 2, '/home'],
      ['event', 'later', 5, '/home'],
      ['identify', undefined, expect.any(Number), '/home'],
      ['event', 'now', expect.any(Number), '/home'],
    ]);
    expect(at.intake.taken[4]!.ids).toMatchObject({ user: 'm-1' });
  });

  it('without a stub it waits for its start', async () => {
    const post = onPage();
    post['event']!('early');
    expect(post.sender).toBeUndefined();
    post['start']!(options());
    at.end(post.sender!);
    await post['flush']!();
    expect(names()).toEqual(['early']);
  });
});
