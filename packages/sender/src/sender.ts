/** Sends events to an intake: queued, in order, sent again under the same ID until they are answered.
 *  Long because its state is one: queue, identity, consent and the page hang together. */
import { backoffMs, deliver, known, type Outcome } from './delivery';
import { Identity } from './identity';
import { watchInteractions } from './interactions';
import { messageId } from './message-id';
import { plain, texts } from './plain';
import { Queue } from './queue';
import { safely } from './safely';
import { defaultStore, memoryStore, storeOf, type PageStorage } from './store';
import type { Answer, Consent, PlanStamp, Values, WireMessage } from './wire';

/** What a check at the sender says of a message. */
export interface Checked {
  readonly code: string;
  readonly sentence: string;
  readonly fix: string;
}

export interface SenderOptions {
  /** Address of the intake, such as `https://post.example.org/intake`. */
  readonly endpoint: string;
  /** Write key of the source. */
  readonly key: string;
  readonly release?: string;
  readonly environment?: string;
  /** The plan that typed calls were generated from: `PLAN` of the generated file. */
  readonly plan?: PlanStamp;
  /** Names of the identifier kinds, as in the plan; `anonymous` and `user` where left out. An empty name leaves a kind out. */
  readonly idKinds?: { readonly anonymous?: string; readonly user?: string };
  /** Identifiers that every message carries besides, such as a device's. */
  readonly ids?: { readonly [kind: string]: string };
  /** Where identity and waiting messages are kept; the browser's storage, or memory, where left out. `none` keeps nothing. */
  readonly storage?: PageStorage | 'none';
  /** Messages that wait at most; over it the oldest goes, and the next one says how many did. 5,000 where left out. */
  readonly maxWaiting?: number;
  /** Messages of one request at most (50), and how long one waits for company, ms (1,000). */
  readonly batch?: number;
  readonly waitMs?: number;
  /** Whether people have said yes; nothing leaves the device, or is kept on it, before they have. No gate where left out. */
  readonly consent?: Consent;
  /** Whether what is pressed is sent too, and within what. */
  readonly interactions?: boolean | EventTarget;
  /** Whether the anonymous ID changes when somebody signs out, so that whoever comes next is another. Yes where left out. */
  readonly rotateOnSignOut?: boolean;
  /** Checks each message before it is sent, and writes to the console what it finds, and what the intake says. */
  readonly debug?: boolean | ((message: WireMessage) => readonly Checked[]);
  /** Told of what the intake answered, and of what went wrong. */
  readonly onAnswer?: (answer: Answer, messages: readonly WireMessage[]) => void;
  readonly onTrouble?: (why: string) => void;
  /** UTC epoch ms. A clock of one's own is not put right. */
  readonly now?: () => number;
}

/** What a message may carry besides its properties. */
export interface More {
  readonly page?: string;
  readonly userProperties?: Values;
  readonly ids?: { readonly [kind: string]: string };
  readonly marks?: readonly string[];
  readonly release?: string;
  readonly environment?: string;
  /** When it happened, UTC epoch ms, where that is not now. */
  readonly at?: number;
  /** Sent at most once with this text on a page view: a milestone. */
  readonly oncePerView?: string;
}

export interface Sender {
  event(name: string, properties?: Values, more?: More): void;
  /** A page or screen that is shown; what happens after it happened there. */
  view(page: string, properties?: Values, more?: More): void;
  /** Something was pressed: for what `interactions` cannot watch. */
  interaction(element: { readonly [part: string]: string }, more?: More): void;
  /** Somebody is known now. Sends an identify call, unless `quietly`: an ID that is only found again is a state, no event. */
  identify(user: string, userProperties?: Values, quietly?: boolean): void;
  signOut(): void;
  /** Another anonymous ID, from now on. */
  rotate(): void;
  consent(consent: Consent): void;
  readonly anonymousId: string;
  readonly userId: string | undefined;
  /** Messages that wait. */
  readonly waiting: number;
  /** Sends what waits. Resolves when nothing waits, or when it could not be sent now. */
  flush(): Promise<void>;
  /** Sends what waits, and ends. */
  stop(): Promise<void>;
}

/** Where there is a page, requests are short enough to outlive it: they hold at most 64 KiB together. Source: Beacon, 2.1. */
const BEACON_SIZE = 30_000;
const REQUEST_SIZE = 400_000;
/** An instant as text; `undefined` for what is none. */
const timeOf = (ms: () => number): string | undefined => safely(() => new Date(ms()).toISOString());

/** What another page gave to the browser as it went has arrived after this long, as a rule. */
const SOON_MS = 500;

/** Below this a difference of clocks is the network's. */
const CLOCK_TOLERANCE_MS = 2000;

export const createSender = (options: SenderOptions): Sender => {
  const { endpoint, batch = 50, waitMs = 1000, now = Date.now } = options;
  // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
  const key = String(options.key);
  const prefix = `signal-post/${key.slice(-8)}/`;
  const hasPage = typeof document !== 'undefined' && typeof location !== 'undefined';
  const store = options.storage === 'none' ? memoryStore() : options.storage === undefined ? defaultStore() : storeOf(options.storage);
  let consent = options.consent;
  const gated = (): boolean => consent !== undefined && consent !== 'granted';
  // Before a yes nothing is kept on the device.
  let identity = new Identity(gated() ? memoryStore() : store, prefix, () => messageId(Date.now()));
  const locks = typeof navigator === 'undefined' ? undefined : (navigator as { locks?: LockManager }).locks;
  const lane = locks === undefined ? 'shared' : messageId(Date.now());
  const queue = new Queue(store, `${prefix}queue/`, lane, options.maxWaiting ?? 5000);
  /** What happened before a yes, in memory alone. */
  let held: WireMessage[] = [];
  let page = '';
  let lastPath = hasPage ? location.pathname : '';
  let once = new Set<string>();
  let attempt = 0;
  /** Whether it waits before it sends again: until its own pause is over, or that which the intake asked for. */
  let resting: 'no' | 'own' | 'told' = 'no';
  /** Batches that were taken, and by message how many had been when it was refused. */
  let takes = 0;
  const refused = new Map<string, number>();
  /** What is on its way, was given to the browser, or was left by another page: it may have arrived, so the intake is asked before it is sent again. */
  const left = new Set<string>();
  const onWay = (messages: readonly WireMessage[]): void => messages.forEach((m) => left.add(m.id));
  let limit = batch;
  let reported = 0;
  let stopped = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let pumping: Promise<void> | undefined;
  /** Whether the page may go at any moment: requests must outlive it then, and be short. */
  let leaving = false;
  const offsetKey = `${prefix}clock`;
  const offsetMs = (): number => (options.now ? 0 : Number(store.read(offsetKey) ?? 0));

  // Whatever an application does with what it is told, it does not come back here.
  const trouble = (why: string): void => void safely(() => options.onTrouble?.(why));

  const say = (message: WireMessage, findings: readonly Checked[]): void => {
    for (const f of findings) console.warn(`Signal Post, ${message.name ?? message.kind}: ${f.sentence} ${f.fix}`, message);
  };

  const currentPage = (): string => {
    if (!hasPage) return page;
    if (location.pathname !== lastPath) {
      lastPath = location.pathname;
      page = '';
      once = new Set();
    }
    return page || location.pathname;
  };

  const idsNow = (): Record<string, string> => {
    const { anonymous = 'anonymous', user = 'user' } = options.idKinds ?? {};
    return {
      ...texts(options.ids),
      ...(anonymous === '' ? {} : { [anonymous]: identity.anonymous }),
      ...(user === '' || identity.user === undefined ? {} : { [user]: identity.user }),
    };
  };

  const put = (kind: WireMessage['kind'], name: string | undefined, properties: Values | undefined, more: More = {}): void => {
    if (stopped || consent === 'denied') return;
    const { oncePerView } = more;
    // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
    const shown = String(more.page ?? currentPage());
    if (oncePerView !== undefined) {
      if (once.has(oncePerView)) return;
      once.add(oncePerView);
    }
    const offset = Math.abs(offsetMs()) < CLOCK_TOLERANCE_MS ? 0 : offsetMs();
    const lost = queue.dropped - reported;
    reported = queue.dropped;
    const message: WireMessage = {
      id: messageId(Date.now()),
      kind,
      name,
      time: timeOf(() => (more.at ?? now()) + offset) ?? new Date().toISOString(),
      ids: { ...idsNow(), ...texts(more.ids) },
      properties: plain(properties),
      user_properties: plain(more.userProperties),
      page: shown === '' ? undefined : shown,
      release: more.release ?? options.release,
      environment: more.environment ?? options.environment,
      marks: more.marks?.map(String),
      consent,
      plan: options.plan,
      clock_offset_ms: offset === 0 ? undefined : offset,
      dropped_before: lost === 0 ? undefined : lost,
    };
    const { debug } = options;
    if (typeof debug === 'function') safely(() => say(message, debug(message)));
    if (gated()) {
      held.push(message);
      if (held.length > (options.maxWaiting ?? 5000)) held.shift();
      return;
    }
    queue.add(message);
    if (queue.length >= limit && resting === 'no') void pump();
    else later(waitMs);
  };

  const later = (ms: number): void => {
    if (timer !== undefined || stopped) return;
    timer = setTimeout(() => {
      timer = undefined;
      resting = 'no';
      void pump();
    }, ms);
    // A program that has nothing else to do ends by `stop`, not by waiting for this.
    (timer as { unref?: () => void }).unref?.();
  };

  const pause = (): number => backoffMs(attempt++, Math.random());
  const halved = ({ length }: readonly WireMessage[]): number => length >> 1 || 1;

  /** Sends nothing for so long; what comes meanwhile waits, too. */
  const rest = (ms: number, told = false): void => {
    clearTimeout(timer);
    timer = undefined;
    resting = told ? 'told' : 'own';
    later(ms);
  };

  /** What the intake will not take by itself goes behind all else: it is let go once others were taken after it was refused. Whether to go on. */
  const setAside = (message: WireMessage, why: string): boolean => {
    const before = refused.get(message.id);
    if (before !== undefined && takes > before) {
      refused.delete(message.id);
      queue.remove([message]);
      trouble(`A message was let go. ${why}`);
      return true;
    }
    refused.set(message.id, before ?? takes);
    queue.toEnd(message);
    // Where all that waits was refused, it may be the intake.
    return queue.length > refused.size;
  };

  const learnClock = ({ answer, tookMs }: Extract<Outcome, { then: 'taken' }>): void => {
    if (answer.now === undefined || options.now) return;
    const offset = Math.round(answer.now - (Date.now() - tookMs / 2));
    if (Math.abs(offset - offsetMs()) > CLOCK_TOLERANCE_MS) store.write(offsetKey, String(offset));
  };

  const run = async (): Promise<void> => {
    while (queue.length > 0 && !gated()) {
      if (left.size > 0 && !leaving) {
        // Until it was answered nothing of it is given to the browser once more.
        const asked = [...left];
        queue.remove(await known(endpoint, key, asked));
        for (const id of asked) left.delete(id);
        continue;
      }
      const messages = queue.head(limit, hasPage ? BEACON_SIZE : REQUEST_SIZE, left);
      // What nobody asked about yet is left to the next page.
      if (!messages[0]) return;
      onWay(messages);
      const outcome = await deliver(endpoint, key, messages);
      for (const { id } of messages) left.delete(id);
      if (outcome.then === 'smaller' && messages.length > 1) {
        limit = halved(messages);
        continue;
      }
      if (outcome.then === 'refused') {
        if (messages.length > 1) limit = halved(messages);
        else if (!setAside(messages[0], outcome.why)) {
          trouble(outcome.why);
          return rest(pause());
        }
        continue;
      }
      if (outcome.then === 'again') {
        trouble(outcome.why);
        if (options.debug) console.warn(`Signal Post: ${outcome.why}`);
        return rest(outcome.afterMs ?? pause(), outcome.told);
      }
      queue.remove(messages);
      attempt = 0;
      takes++;
      if (outcome.then === 'smaller') trouble('A message was let go. Too large.');
      else {
        learnClock(outcome);
        safely(() => options.onAnswer?.(outcome.answer, messages));
        if (options.debug)
          for (const a of outcome.answer.answers ?? []) {
            const message = messages[a.index];
            if (message) say(message, a.findings ?? (a.detail === undefined ? [] : [{ code: 'rejected', sentence: a.detail, fix: '' }]));
          }
      }
      limit = Math.min(batch, limit * 2);
    }
  };

  const pump = (): Promise<void> => {
    if (resting === 'told') return pumping ?? Promise.resolve();
    clearTimeout(timer);
    timer = undefined;
    resting = 'no';
    pumping ??= run()
      .catch((e: unknown) => (trouble(String(e)), rest(pause())))
      .finally(() => {
        pumping = undefined;
      });
    return pumping;
  };

  /** When a page goes, it may have no time for an answer. What is given to the browser stays kept: the same ID makes a second time harmless. */
  const hand = (): void => {
    if (gated() || resting === 'told') return;
    const messages = queue.head(batch, BEACON_SIZE, left);
    if (messages[0] && safely(() => navigator.sendBeacon(endpoint, JSON.stringify({ key, messages })))) onWay(messages);
  };
  const onHidden = (): void => {
    leaving = document.visibilityState === 'hidden';
    if (leaving && resting === 'no') void pump();
  };
  const onOnline = (): void => {
    attempt = 0;
    void pump();
  };
  const endInteractions =
    options.interactions && hasPage
      ? watchInteractions(options.interactions === true ? document : options.interactions, (element) =>
          put('interaction', undefined, { element: { ...element } }),
        )
      : () => undefined;

  let release: (() => void) | undefined;
  const lookedAfter = new Set([lane]);
  const takeFrom = (other: string): void => {
    const messages = queue.adopt(other);
    onWay(messages);
    if (messages[0] && resting === 'no') rest(SOON_MS);
  };
  /** Takes over what another page keeps as soon as that page is gone. */
  const lookAfter = (other: string): void => {
    if (locks === undefined || lookedAfter.has(other)) return;
    lookedAfter.add(other);
    void locks
      .request(prefix + other, () => {
        if (stopped) return;
        takeFrom(other);
      })
      .catch(() => undefined);
  };
  /** Another page keeps something. */
  const onKept = ({ key: kept }: StorageEvent): void => {
    const other = kept?.startsWith(`${prefix}queue/`) ? kept.slice(prefix.length + 6).split('/')[0] : undefined;
    if (other !== undefined && !gated()) lookAfter(other);
  };
  /** What other pages of this sender left is taken over as soon as nobody else looks after it. */
  const takeOver = (): void => {
    if (gated()) return;
    if (locks === undefined) {
      takeFrom(lane);
      return;
    }
    void locks.request(prefix + lane, () => new Promise<void>((done) => (release = done))).catch(() => undefined);
    for (const other of queue.lanes()) lookAfter(other);
  };
  takeOver();
  // Made at once, so that a second page of a new visitor finds it.
  if (!gated() && options.idKinds?.anonymous !== '') void identity.anonymous;
  if (hasPage) {
    document.addEventListener('visibilitychange', onHidden);
    addEventListener('pagehide', hand);
    addEventListener('online', onOnline);
    addEventListener('storage', onKept);
  }

  /** An application's call never fails by this: what is wrong is told. */
  const guarded =
    <A extends unknown[]>(work: (...given: A) => void) =>
    (...given: A): void => {
      try {
        work(...given);
      } catch (e) {
        trouble(String(e));
      }
    };

  return {
    // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
    event: guarded((name, properties, more) => put('event', String(name), properties, more)),
    view: guarded((shown, properties, more) => {
      page = shown;
      lastPath = hasPage ? location.pathname : '';
      once = new Set();
      put('view', undefined, properties, { ...more, page: shown });
    }),
    interaction: guarded((element, more) => put('interaction', undefined, { element }, more)),
    identify: guarded((user, userProperties, quietly = false) => {
      if (consent === 'denied') return;
      // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
      identity.setUser(String(user));
      if (!quietly) put('identify', undefined, undefined, userProperties === undefined ? {} : { userProperties });
    }),
    signOut() {
      identity.setUser(undefined);
      if (options.rotateOnSignOut !== false) identity.rotate();
    },
    rotate: () => identity.rotate(),
    consent: guarded((given) => {
      const before = consent;
      consent = given;
      if (given === 'granted') {
        if (before !== undefined && before !== 'granted') {
          const known = { anonymous: identity.anonymous, user: identity.user };
          identity = new Identity(store, prefix, () => known.anonymous);
          if (known.user !== undefined) identity.setUser(known.user);
          takeOver();
          const kept = identity.anonymous;
          const kind = options.idKinds?.anonymous ?? 'anonymous';
          // A visitor of before is the same one: what was held is sent under the ID that is kept.
          for (const m of held)
            queue.add({ ...m, consent: given, ids: m.ids[kind] === known.anonymous ? { ...m.ids, [kind]: kept } : m.ids });
          held = [];
        }
        void pump();
        return;
      }
      if (given === 'denied') {
        held = [];
        queue.clear();
        identity.forget();
      }
      if (before === undefined || before === 'granted') identity = new Identity(memoryStore(), prefix, () => messageId(Date.now()));
    }),
    get anonymousId() {
      return identity.anonymous;
    },
    get userId() {
      return identity.user;
    },
    get waiting() {
      return queue.length + held.length;
    },
    async flush() {
      // What is on its way may not hold what was said just now.
      await pumping;
      if (queue.length > 0) await pump();
    },
    async stop() {
      endInteractions();
      if (hasPage) {
        document.removeEventListener('visibilitychange', onHidden);
        removeEventListener('pagehide', hand);
        removeEventListener('online', onOnline);
        removeEventListener('storage', onKept);
      }
      await pumping;
      resting = 'no';
      await pump();
      stopped = true;
      clearTimeout(timer);
      release?.();
    },
  };
};
