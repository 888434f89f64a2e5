/** Sends events to an intake: queued, in order, sent again under the same ID until they are answered.
 *  Long because its state is one: queue, identity, consent and the page hang together. */
import { ask, backoffMs, deliver, type Outcome } from './delivery';
import { Identity } from './identity';
import { messageId } from './message-id';
import { plain, texts } from './plain';
import { Queue } from './queue';
import { safely } from './safely';
import { defaultStore, memoryStore, storeOf, type PageStorage } from './store';
import type { Answer, Consent, Consents, PlanStamp, Values, WireMessage } from './wire';

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
  /** Whether people have said yes, to all or by purpose; nothing leaves the device, or is kept on it, before they have. No gate where left out. */
  readonly consent?: Consents;
  /** The purpose of what does not say its own. Where left out, that needs a yes to every purpose that was asked for. */
  readonly purpose?: string;
  /** Sees each message last: gives it back, as it is to be sent, or `null` to leave it out. One that throws, or gives nothing back, lets a message go, and that is told and counted. */
  readonly beforeSend?: (message: WireMessage) => WireMessage | null;
  /** What is added to it, such as `interactions()`. */
  readonly with?: readonly AddOn[];
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

/** Something that belongs to a sender: it may look at each message as it is made, and give it back as it is to be, or `null` where it is not to be; it begins when all of it are there, and ends with the sender. */
export type AddOn = (sender: Sender) => {
  readonly each?: (message: WireMessage) => WireMessage | null;
  readonly begin?: () => void;
  readonly end?: () => void;
};

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
  /** What it is for: it waits until somebody said yes to that. */
  readonly purpose?: string;
  /** What the person said whom it is about, where a program sends for many: it is sent after a yes, and not kept otherwise. */
  readonly consent?: Consent;
}

/** What can be told. */
export interface Calls {
  event(name: string, properties?: Values, more?: More): void;
  /** A page or screen that is shown; what happens after it happened there. */
  view(page: string, properties?: Values, more?: More): void;
  /** Something was pressed: for what `interactions` cannot watch. */
  interaction(element: { readonly [part: string]: string }, more?: More): void;
  /** Somebody is known now. Sends an identify call, unless `quietly`: an ID that is only found again is a state, no event. */
  identify(user: string, userProperties?: Values, quietly?: boolean): void;
}

export interface Sender extends Calls {
  /** For one person or request, on a server that sends for many: with these identifiers and no others, a page and a user of its own, and nothing of it kept but the messages. */
  for(ids: { readonly [kind: string]: string }, more?: More): Calls;
  signOut(): void;
  /** Another anonymous ID, from now on. */
  rotate(): void;
  consent(consent: Consents): void;
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
/** What another page gave to the browser as it went has arrived after this long, as a rule. */
const SOON_MS = 500;

/** Where what happens happens, and to whom. */
interface Scene {
  page: string;
  /** Milestones that were told on this view. */
  once: Set<string>;
  ids: () => Record<string, string>;
  readonly setUser: (user: string) => void;
}

/** Whether nothing is sent for a while, by its own pause or because it was told so. */
const NOT = 0;
const OWN = 1;
const TOLD = 2;

/** A yes or no to all. */
const ALL = '*';

/** Below this a difference of clocks is the network's. */
const CLOCK_TOLERANCE_MS = 2000;

export const createSender = (options: SenderOptions): Sender => {
  const { endpoint, batch = 50, waitMs = 1000, maxWaiting: bound = 5000, now = Date.now } = options;
  // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
  const key = String(options.key);
  const prefix = `signal-post/${key.slice(-8)}/`;
  const hasPage = 'document' in globalThis && 'location' in globalThis;
  const store = options.storage === 'none' ? memoryStore() : options.storage === undefined ? defaultStore() : storeOf(options.storage);
  const { idKinds: { anonymous: anonymousKind = 'anonymous', user: userKind = 'user' } = {} } = options;
  let consents: ReadonlyMap<string, Consent> | undefined;
  const hear = (given: Consents): void => {
    consents = new Map(typeof given === 'object' ? [...(consents ?? []), ...Object.entries(given)] : [[ALL, given]]);
  };
  if (options.consent) hear(options.consent);
  /** What was said to a purpose; to all of them where there is none. */
  const stateOf = (purpose = options.purpose): Consent | undefined => {
    if (!consents) return undefined;
    const said = purpose === undefined ? [...consents.values()] : [consents.get(purpose) ?? consents.get(ALL)];
    return said.find((c) => c === 'denied') ?? said.find((c) => c !== 'granted') ?? said[0] ?? 'unknown';
  };
  const closed = (state: Consent | undefined): boolean => (state ?? 'granted') !== 'granted';
  const gated = (): boolean => closed(stateOf());
  // Before a yes nothing is kept on the device.
  let identity = new Identity(gated() ? memoryStore() : store, prefix, () => messageId(Date.now()));
  const locks = (globalThis.navigator as { locks?: LockManager } | undefined)?.locks;
  const lane = locks ? messageId(Date.now()) : 'shared';
  const queue = new Queue(store, `${prefix}queue/`, lane, bound);
  /** What happened before a yes, in memory alone. */
  let held: WireMessage[] = [];
  let lastPath = hasPage ? location.pathname : '';
  const here: Scene = {
    page: '',
    once: new Set(),
    ids: () => ({
      ...(anonymousKind === '' ? {} : { [anonymousKind]: identity.anonymous }),
      ...(userKind === '' || identity.user === undefined ? {} : { [userKind]: identity.user }),
    }),
    setUser: (user) => identity.setUser(user),
  };
  let attempt = 0;
  /** Whether it waits before it sends again: until its own pause is over, or that which the intake asked for. */
  let resting: typeof NOT | typeof OWN | typeof TOLD = NOT;
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
  /** Messages that were made before the intake's time was known, where it is not: theirs is put right before they are sent. */
  let early = options.now || store.read(offsetKey) !== undefined ? undefined : new Set<string>();
  /** Whether the intake is asked for its time before anything is sent. */
  let asks = early !== undefined;
  const added: ReturnType<AddOn>[] = [];

  // Whatever an application does with what it is told, it does not come back here.
  const trouble = (why: string): void => {
    if (options.debug) console.warn(`Signal Post: ${why}`);
    safely(() => options.onTrouble?.(why));
  };

  const say = (message: WireMessage, findings: readonly Omit<Checked, 'code'>[]): void => {
    for (const f of findings) console.warn(`Signal Post, ${message.name ?? message.kind}: ${f.sentence} ${f.fix}`, message);
  };

  const currentPage = (): string => {
    if (!hasPage) return here.page;
    if (location.pathname !== lastPath) {
      lastPath = location.pathname;
      here.page = '';
      here.once = new Set();
    }
    return here.page || location.pathname;
  };

  /** What the application let go once, and waits for a yes again. */
  const passed = new Set<string>();
  /** Puts what may be sent into the queue, as the application lets it go. */
  const enqueue = (message: WireMessage): void => {
    let sent: WireMessage | null = message;
    if (options.beforeSend && !passed.has(message.id)) {
      try {
        sent = options.beforeSend(message);
        if (sent === null) return;
        sent = plain(sent) as unknown as WireMessage;
        // Nothing, a promise, or another message.
        if (sent.id !== message.id) throw new Error('nothing back');
      } catch (e) {
        queue.dropped++;
        return trouble(`A message was let go. beforeSend: ${(e as Error).message}`);
      }
    }
    queue.add(sent);
  };

  const put = (
    scene: Scene,
    kind: WireMessage['kind'],
    name: string | undefined,
    properties: Values | undefined,
    more: More = {},
  ): void => {
    const { oncePerView, purpose = options.purpose } = more;
    const consent = more.consent ?? stateOf(purpose);
    const waits = closed(consent);
    if (stopped || consent === 'denied' || (waits && more.consent)) return;
    // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
    const shown = String(more.page ?? (scene === here ? currentPage() : scene.page));
    if (oncePerView !== undefined) {
      if (scene.once.has(oncePerView)) return;
      scene.once.add(oncePerView);
    }
    const offset = Math.abs(offsetMs()) < CLOCK_TOLERANCE_MS ? 0 : offsetMs();
    const lost = queue.dropped - reported;
    reported = queue.dropped;
    let message: WireMessage = {
      id: messageId(Date.now()),
      kind,
      name,
      // What is no instant happened now.
      time: safely(() => new Date((more.at ?? now()) + offset).toISOString()) ?? new Date().toISOString(),
      ids: { ...texts(options.ids), ...scene.ids(), ...texts(more.ids) },
      properties: plain(properties),
      user_properties: plain(more.userProperties),
      page: shown === '' ? undefined : shown,
      release: more.release ?? options.release,
      environment: more.environment ?? options.environment,
      marks: more.marks?.map(String),
      consent,
      plan: options.plan,
      purpose,
      clock_offset_ms: offset === 0 ? undefined : offset,
      dropped_before: lost === 0 ? undefined : lost,
    };
    for (const a of added) {
      const made = safely(() => a.each?.(message));
      if (made === null) return;
      message = made ?? message;
    }
    early?.add(message.id);
    const { debug } = options;
    if (typeof debug === 'function') safely(() => say(message, debug(message)));
    if (waits) {
      held.push(message);
      if (held.length > bound && held.shift()) queue.dropped++;
      return;
    }
    enqueue(message);
    if (queue.length >= limit && resting === NOT) void pump();
    else later(waitMs);
  };

  const later = (ms: number): void => {
    if (timer || stopped) return;
    timer = setTimeout(() => {
      timer = undefined;
      resting = NOT;
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
    resting = told ? TOLD : OWN;
    later(ms);
  };

  /** What the intake will not take by itself goes behind all else: it is let go once others were taken after it was refused. Whether to go on. */
  const setAside = (message: WireMessage, why: string): boolean => {
    const before = refused.get(message.id);
    if (takes > before!) {
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

  const learnClock = ({ heard: answer, tookMs }: Extract<Outcome, { then: 'taken' }>): void => {
    if (answer.now === undefined || options.now) return;
    const offset = Math.round(answer.now - (Date.now() - tookMs / 2));
    if (early || Math.abs(offset - offsetMs()) > CLOCK_TOLERANCE_MS) store.write(offsetKey, String(offset));
    const before = early;
    early = undefined;
    // What may have left the device stays as it was told.
    const putRight = (m: WireMessage): WireMessage =>
      before?.has(m.id) && !left.has(m.id) && Math.abs(offset) >= CLOCK_TOLERANCE_MS
        ? { ...m, time: new Date(Date.parse(m.time) + offset).toISOString(), clock_offset_ms: offset }
        : m;
    queue.change(putRight);
    held = held.map(putRight);
  };

  const goOnLater = ({ why, afterMs, told }: Extract<Outcome, { then: 'again' }>): void => {
    trouble(why);
    rest(afterMs ?? pause(), told);
  };

  const run = async (): Promise<void> => {
    while (queue.length > 0) {
      if ((left.size > 0 || asks) && !leaving) {
        // Until it was answered nothing of it is given to the browser once more.
        const asked = [...left];
        const outcome = await ask(endpoint, key, asked);
        if (outcome.then === 'again') return goOnLater(outcome);
        asks = false;
        if (outcome.then === 'taken') {
          learnClock(outcome);
          queue.remove(outcome.heard.known!);
        }
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
      if (outcome.then === 'again') return goOnLater(outcome);
      queue.remove(messages);
      attempt = 0;
      takes++;
      if (outcome.then === 'smaller') trouble('A message was let go. Too large.');
      else {
        learnClock(outcome);
        safely(() => options.onAnswer?.(outcome.heard, messages));
        if (options.debug)
          for (const a of outcome.heard.answers ?? []) {
            const message = messages[a.index];
            if (message) say(message, a.findings ?? (a.detail ? [{ sentence: a.detail, fix: '' }] : []));
          }
      }
      limit = Math.min(batch, limit * 2);
    }
  };

  const pump = (): Promise<void> => {
    if (resting === TOLD) return pumping ?? Promise.resolve();
    clearTimeout(timer);
    timer = undefined;
    resting = NOT;
    pumping ??= run()
      .catch((e: unknown) => (trouble(String(e)), rest(pause())))
      .finally(() => {
        pumping = undefined;
      });
    return pumping;
  };

  /** When a page goes, it may have no time for an answer. What is given to the browser stays kept: the same ID makes a second time harmless. */
  const hand = (): void => {
    if (resting === TOLD) return;
    const messages = queue.head(batch, BEACON_SIZE, left);
    if (messages[0] && safely(() => navigator.sendBeacon(endpoint, JSON.stringify({ key, messages })))) onWay(messages);
  };
  const onHidden = (): void => {
    leaving = document.visibilityState === 'hidden';
    if (leaving && resting === NOT) void pump();
  };
  const onOnline = (): void => {
    attempt = 0;
    void pump();
  };
  const listening = new AbortController();
  let release: (() => void) | undefined;
  const lookedAfter = new Set([lane]);
  const takeFrom = (other: string): void => {
    const messages = queue.adopt(other);
    onWay(messages);
    if (messages[0] && resting === NOT) rest(SOON_MS);
  };
  /** Takes over what another page keeps as soon as that page is gone. */
  const lookAfter = (other: string): void => {
    if (!locks || lookedAfter.has(other)) return;
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
    const other = kept?.startsWith(`${prefix}queue/`) && kept.slice(prefix.length + 6).split('/')[0];
    if (other && !gated()) lookAfter(other);
  };
  /** What other pages of this sender left is taken over as soon as nobody else looks after it. */
  const takeOver = (): void => {
    if (gated()) return;
    if (!locks) return takeFrom(lane);
    void locks.request(prefix + lane, () => new Promise<void>((done) => (release = done))).catch(() => undefined);
    for (const other of queue.lanes()) lookAfter(other);
  };
  takeOver();
  // Made at once, so that a second page of a new visitor finds it.
  if (!gated() && anonymousKind !== '') void identity.anonymous;
  if (hasPage) {
    const { signal } = listening;
    document.addEventListener('visibilitychange', onHidden, { signal });
    addEventListener('pagehide', hand, { signal });
    addEventListener('online', onOnline, { signal });
    addEventListener('storage', onKept, { signal });
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

  const calls = (scene: Scene, base?: More): Calls => ({
    // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
    event: guarded((name, properties, more) => put(scene, 'event', String(name), properties, { ...base, ...more })),
    view: guarded((shown, properties, more) => {
      scene.page = shown;
      scene.once = new Set();
      if (hasPage) lastPath = location.pathname;
      put(scene, 'view', undefined, properties, { ...base, ...more, page: shown });
    }),
    interaction: guarded((element, more) => put(scene, 'interaction', undefined, { element }, { ...base, ...more })),
    identify: guarded((user, userProperties, quietly = false) => {
      if ((base?.consent ?? stateOf()) === 'denied') return;
      // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-conversion -- scripts without types give what they like
      scene.setUser(String(user));
      if (!quietly) put(scene, 'identify', undefined, undefined, { ...base, ...(userProperties && { userProperties }) });
    }),
  });

  const sender: Sender = {
    ...calls(here),
    for(ids, more) {
      const own = texts(ids);
      return calls(
        { page: '', once: new Set(), ids: () => own, setUser: (user) => void (userKind !== '' && (own[userKind] = user)) },
        more,
      );
    },
    signOut() {
      identity.setUser(undefined);
      if (options.rotateOnSignOut !== false) identity.rotate();
    },
    rotate: () => identity.rotate(),
    consent: guarded((given) => {
      const before = stateOf();
      hear(given);
      const after = stateOf();
      const kept = { anonymous: identity.anonymous, user: identity.user };
      if (after === 'granted' && closed(before)) {
        identity = new Identity(store, prefix, () => kept.anonymous);
        if (kept.user !== undefined) identity.setUser(kept.user);
        takeOver();
      } else if (after !== 'granted') {
        if (after === 'denied') identity.forget();
        if (!closed(before)) identity = new Identity(memoryStore(), prefix, () => messageId(Date.now()));
      }
      const back = queue.takeOut((m) => closed(stateOf(m.purpose)));
      for (const m of back) passed.add(m.id);
      const waiting = [...back, ...held];
      held = [];
      for (const m of waiting) {
        const consent = stateOf(m.purpose);
        // A visitor of before is the same one: what was held is sent under the ID that is kept.
        const ids =
          m.ids[anonymousKind] === kept.anonymous && after === 'granted' ? { ...m.ids, [anonymousKind]: identity.anonymous } : m.ids;
        if (consent === 'granted') enqueue({ ...m, consent, ids });
        else if (consent !== 'denied') held.push(m);
      }
      void pump();
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
      for (const a of added) safely(() => a.end?.());
      listening.abort();
      await pumping;
      resting = NOT;
      await pump();
      stopped = true;
      clearTimeout(timer);
      release?.();
    },
  };
  for (const add of options.with ?? []) added.push(safely(() => add(sender)) ?? {});
  for (const a of added) safely(() => a.begin?.());
  return sender;
};
