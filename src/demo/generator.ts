/** The history of Oddment: eight weeks of persons who look, join, reserve and borrow. The same seed gives the same history.
 *  Long because each step of a person's life draws from the same random numbers, and each fault sits where its message is made.
 */
import type { FaultId } from './faults';
import type { GeneratedMessage, GeneratorOptions } from './generated';
import { sentByLibraries } from './automatic';
import { pressed } from './interactions';
import { BRANCHES, CATEGORIES } from './plan';
import { seeded, type Rng } from './random';

const DAY = 86_400_000;
const MINUTE = 60_000;
const WEEKS = 8;
const CLOCK_AHEAD = 5 * 3_600_000;
/** Whole days of the history without late fees, and how far the silence reaches beyond them, so that they are whole in the desk's own
 *  time zone too.
 */
const SILENT_FROM = 44;
const SILENT_TO = 47;
const SILENT_EDGE = 3 * 3_600_000;

interface Tool {
  readonly tool_id: string;
  readonly tool_name: string;
  readonly tool_category: string;
  readonly branch: string;
  readonly deposit: number;
}

const NOUNS: Record<(typeof CATEGORIES)[number], readonly string[]> = {
  drills: ['Cordless drill 18 V', 'Hammer drill', 'Bench drill'],
  ladders: ['Three-part ladder', 'Step ladder', 'Attic ladder'],
  'sewing machines': ['Sewing machine', 'Overlock machine'],
  tents: ['Two-person tent', 'Family tent', 'Party tent'],
  saws: ['Jigsaw', 'Circular saw', 'Pruning saw'],
  garden: ['Hedge trimmer', 'Lawn aerator', 'Leaf blower'],
};

const makeTools = (rng: Rng): Tool[] =>
  Array.from({ length: 120 }, (_, i) => {
    const tool_category = rng.pick(CATEGORIES);
    return {
      tool_id: `T-${String(i + 1).padStart(4, '0')}`,
      tool_name: rng.pick(NOUNS[tool_category]),
      tool_category,
      branch: rng.pick(BRANCHES),
      deposit: rng.int(4, 80) * 250,
    };
  });

/** The release that a source runs at a moment; phones update over two weeks. */
const webRelease = (age: number): string => (age < 2.5 ? '8.0.3' : age < 4.5 ? '8.1.0' : age < 6 ? '8.2.0' : '8.2.1');
const iosRelease = (age: number, late: number): string => (age - late < 3.5 ? 'ios 5.0.4' : age - late < 5.5 ? 'ios 5.1.0' : 'ios 5.1.2');
const androidRelease = (age: number, late: number): string => (age - late < 4 ? 'android 3.3.2' : 'android 3.4.0');

const SKILLS = ['starting', 'starting', 'handy', 'handy', 'handy', 'skilled'] as const;
const LANGUAGES = ['en', 'en', 'en', 'nl', 'fr'] as const;

interface Person {
  readonly client: 'web' | 'app';
  readonly ios: boolean;
  /** Weeks by which this phone updates late. */
  readonly late: number;
  readonly anonymous: string;
  readonly device: string;
  readonly user: string;
  readonly form: 'long form' | 'short form';
  readonly branch: (typeof BRANCHES)[number];
  /** Guides that were begun; nobody reads one twice. */
  readonly guides: Set<string>;
  /** Tools brought back so far. */
  borrowed: number;
  member: boolean;
  /** The client knows who it is. */
  signedIn: boolean;
}

class History {
  readonly out: GeneratedMessage[] = [];
  private readonly start: number;
  private requests = 0;
  constructor(
    private readonly rng: Rng,
    private readonly o: GeneratorOptions,
    private readonly tools: readonly Tool[],
  ) {
    this.start = o.now - WEEKS * 7 * DAY;
  }

  private has(fault: FaultId): boolean {
    return this.o.faults.has(fault);
  }

  /** Whether a planted fault shows on this message. */
  private shows(fault: FaultId): boolean {
    const { strength = 1 } = this.o;
    return this.has(fault) && (strength >= 1 || this.rng.chance(strength));
  }

  private releaseOf(p: Person, at: number): string {
    const age = (at - this.start) / (7 * DAY);
    return p.client === 'web' ? webRelease(age) : p.ios ? iosRelease(age, p.late) : androidRelease(age, p.late);
  }

  private push(
    sourceId: GeneratedMessage['sourceId'],
    at: number,
    message: Omit<GeneratedMessage['message'], 'id' | 'time'>,
    ahead = 0,
  ): void {
    if (at > this.o.now - 1000 || at < this.start) return;
    const { rng } = this;
    const lag =
      sourceId !== 'web' && sourceId !== 'app'
        ? 40 + rng.exponential(60)
        : sourceId === 'web'
          ? 150 + rng.exponential(400)
          : 300 + rng.exponential(rng.chance(0.03) ? 600_000 : 2000);
    const receivedAt = Math.min(this.o.now - 1, Math.round(at + lag));
    const full = { id: rng.hex(24), time: new Date(Math.round(at + ahead)).toISOString(), ...message };
    this.out.push({ sourceId, receivedAt, message: full });
    if (this.shows('retries') && rng.chance(0.01))
      this.out.push({ sourceId, receivedAt: Math.min(this.o.now - 1, receivedAt + 2000), message: full });
  }

  private client(
    p: Person,
    at: number,
    name: string,
    properties: Record<string, unknown>,
    page: string,
    user?: Record<string, unknown>,
  ): void {
    const release = this.releaseOf(p, at);
    const ids: Record<string, string> = p.client === 'web' ? { anonymous: p.anonymous } : { anonymous: p.anonymous, device: p.device };
    if (p.signedIn) ids['user'] = release === '8.2.0' && this.shows('template-user-id') ? '{{member_id}}' : p.user;
    this.push(p.client, at, { name, ids, properties, ...(user ? { user_properties: user } : {}), release, page });
  }

  /** The user properties that a client sets at a sign-in. */
  private traits(p: Person): Record<string, unknown> {
    const home =
      p.client === 'app' && !p.ios && this.shows('swapped-user-property') ? { [p.branch]: 'home_branch' } : { home_branch: p.branch };
    const n = Number(p.user.slice(2));
    return {
      ...home,
      skill_level: SKILLS[n % SKILLS.length],
      ...(p.client === 'web' ? { preferred_language: LANGUAGES[n % LANGUAGES.length] } : {}),
    };
  }

  private server(p: Person, at: number, name: string, properties: Record<string, unknown>, user?: Record<string, unknown>): void {
    this.push('backend', at, { name, ids: { user: p.user }, properties, ...(user ? { user_properties: user } : {}), release: '2026.9' });
  }

  private kiosk(p: Person, at: number, branch: string, name: string, properties: Record<string, unknown>): void {
    const ids = { ...(this.shows('shared-kiosk') ? { device: `kiosk-${branch.toLowerCase().replace(' ', '-')}` } : {}), user: p.user };
    const ahead = branch === 'Millrace' && this.shows('kiosk-clock') ? CLOCK_AHEAD : 0;
    this.push('kiosk', at, { name, ids, properties, release: '2026.9' }, ahead);
  }

  private fee(p: Person, at: number, properties: Record<string, unknown>): void {
    const first = Math.floor(this.start / DAY) * DAY;
    const silent = at >= first + SILENT_FROM * DAY - SILENT_EDGE && at < first + SILENT_TO * DAY + SILENT_EDGE;
    if (silent && this.has('silent-fees')) return;
    const user = this.shows('email-user-id') ? `${p.user}@example.org` : p.user;
    this.push('payments', at, { name: 'Late Fee Charged', ids: { user }, properties, release: '2026.9' });
  }

  /** Some of a safety guide is read; after a reload, which happens to one in five, the page may begin again. */
  private guide(p: Person, at: number): void {
    const { rng } = this;
    const tool_category = rng.pick(CATEGORIES);
    if (p.guides.has(tool_category)) return;
    p.guides.add(tool_category);
    const page = `/guides/${tool_category.replace(' ', '-')}`;
    const reads = (from: number): number => {
      let t = from;
      for (const guide_share of [25, 50, 75, 100]) {
        t += 4000 + rng.exponential(15_000);
        this.client(p, t, 'Guide Read', { guide_share, tool_category }, page);
        if (rng.chance(0.25)) break;
      }
      return t;
    };
    const end = reads(at);
    if (this.shows('milestones-again') && p.client === 'web' && rng.chance(0.2)) reads(end + 5000);
  }

  private view(p: Person, at: number): Tool {
    const tool = this.rng.pick(this.tools);
    const twin = this.shows('wrong-case-twin') && this.releaseOf(p, at).startsWith('ios 5.1') && this.rng.chance(0.35);
    const unlisted = this.shows('unlisted-category') && this.releaseOf(p, at) === '8.2.1' && tool.tool_category === 'garden';
    const shown = unlisted ? { ...tool, tool_category: 'garden & balcony' } : tool;
    this.client(p, at, twin ? 'Tool viewed' : 'Tool Viewed', { ...shown }, `/tools/${tool.tool_id}`);
    return tool;
  }

  private search(p: Person, at: number): void {
    const { rng } = this;
    const found = { query_length: rng.int(2, 24), result_count: rng.chance(0.11) ? 0 : rng.int(1, 40), branch: rng.pick(BRANCHES) };
    this.client(p, at, 'Catalogue Searched', found, '/search');
    const twice = this.shows('bound-twice') && this.releaseOf(p, at) === '8.1.0' && rng.chance(0.2);
    if (twice) this.client(p, at + 8, 'Catalogue Searched', found, '/search');
  }

  private join(p: Person, at: number): void {
    const { rng } = this;
    this.client(p, at, 'Membership Started', { signup_form: p.form }, '/join');
    if (!rng.chance(0.72)) return;
    const done = at + 2 * MINUTE + rng.exponential(4 * MINUTE);
    p.member = true;
    const membership_tier = rng.pick(['neighbour', 'neighbour', 'maker', 'patron']);
    this.server(p, done, 'Membership Activated', { membership_tier }, { membership_tier });
    if (this.shows('unlinked-join') && p.form === 'short form') return;
    p.signedIn = true;
    const release = this.releaseOf(p, done);
    const template = release === '8.2.0' && this.shows('template-user-id');
    const ids = { anonymous: p.anonymous, ...(p.client === 'app' ? { device: p.device } : {}), user: template ? '{{member_id}}' : p.user };
    this.push(p.client, done + 1500, { kind: 'identify', ids, user_properties: this.traits(p), release });
  }

  private reserve(p: Person, at: number, tool: Tool): void {
    const { rng } = this;
    const request_id = `r-${(this.requests++).toString(16).padStart(6, '0')}`;
    const loanDays = rng.pick([2, 3, 3, 5, 7, 7, 10, 14, 21]);
    const release = this.releaseOf(p, at);
    const rejected = rng.chance(0.14);
    const onPress = this.shows('press-not-outcome') && p.client === 'web' && release !== '8.0.3';
    const hours = this.shows('hours-for-days') && release === 'android 3.4.0';
    const loan = { ...tool, request_id, loan_days: hours ? loanDays * 24 : loanDays };
    const answered = at + 400 + rng.exponential(300);
    if (onPress) this.client(p, at, 'Reservation Requested', loan, `/tools/${tool.tool_id}`);
    if (rejected) return;
    if (!onPress) this.client(p, answered + 50, 'Reservation Requested', loan, `/tools/${tool.tool_id}`);
    this.server(p, answered, 'Reservation Confirmed', { request_id, tool_id: tool.tool_id, branch: tool.branch });
    if (!rng.chance(0.8)) return;
    const begun = at + 0.2 * DAY + rng.exponential(1.2 * DAY);
    const lent = { tool_id: tool.tool_id, branch: tool.branch };
    if (rng.chance(0.4)) {
      const deposit = this.shows('text-deposit') ? String(tool.deposit) : tool.deposit;
      // A signed-in member has a card, so the kiosk knows who it is.
      this.kiosk(p, begun - 2 * MINUTE, tool.branch, 'Signed In', { sign_in_method: 'card' });
      this.kiosk(p, begun - MINUTE, tool.branch, 'Deposit Paid', { ...lent, deposit });
      this.kiosk(p, begun, tool.branch, 'Loan Started', { ...lent, loan_days: loanDays });
    } else this.server(p, begun, 'Loan Started', { ...lent, loan_days: loanDays });
    // Known to the desk by the time the tool is back, whoever lent it.
    const tools_borrowed = ++p.borrowed;
    if (rng.chance(0.15) && !this.has('never-built'))
      this.server(p, begun + (loanDays - 0.5) * DAY, 'Loan Extended', { ...lent, loan_days: loanDays });
    const kept = Math.max(0, Math.round(loanDays - 1 + rng.exponential(1.5)));
    const back = begun + kept * DAY + rng.next() * 0.2 * DAY;
    const tool_condition = rng.pick(['fine', 'fine', 'fine', 'fine', 'worn', 'broken']);
    const typed = this.shows('typed-email') && rng.chance(0.2);
    const note = typed ? `Call ${p.user}@example.org about it` : rng.pick(['Cable is loose', 'Blade is blunt', 'Handle is cracked']);
    this.server(
      p,
      back,
      'Loan Returned',
      {
        ...lent,
        days_kept: kept,
        tool_condition,
        ...(tool_condition === 'fine' ? {} : { damage_note: note }),
      },
      { tools_borrowed },
    );
    if (kept > loanDays) this.fee(p, back + MINUTE, { late_fee: (kept - loanDays) * 150, currency: 'EUR' });
  }

  private visit(p: Person, from: number): void {
    const { rng } = this;
    let at = from;
    const step = (mean: number): number => (at += 5000 + rng.exponential(mean));
    if (p.member && rng.chance(p.signedIn ? 0.12 : 0.45)) {
      p.signedIn = true;
      this.client(p, at, 'Signed In', { sign_in_method: rng.pick(['card', 'e-mail link', 'passkey']) }, '/account', this.traits(p));
    }
    if (p.signedIn && this.shows('signed-in-on-view') && this.releaseOf(p, at) === 'ios 5.1.0')
      for (let n = 2; n > 0; n--) this.client(p, step(20_000), 'Signed In', { sign_in_method: 'passkey' }, '/account', this.traits(p));
    for (let n = 1 + Math.floor(rng.exponential(1.1)); n > 0; n--) {
      if (rng.chance(0.55)) this.search(p, step(25_000));
      if (rng.chance(0.08)) this.guide(p, step(30_000));
      if (!rng.chance(0.7)) continue;
      const tool = this.view(p, step(40_000));
      if (p.member && rng.chance(0.24)) this.reserve(p, step(30_000), tool);
    }
    if (!p.member && rng.chance(0.12)) this.join(p, step(60_000));
    else if (p.signedIn && rng.chance(0.06)) {
      this.client(p, step(30_000), 'Signed Out', {}, '/account');
      p.signedIn = false;
    }
  }

  /** One person's life: a first visit on a day that grows likelier with time, then visits that die out or become a habit. */
  person(n: number): void {
    const { rng } = this;
    const client = rng.chance(0.58) ? 'web' : 'app';
    const p: Person = {
      client,
      ios: rng.chance(0.5),
      late: rng.exponential(0.5),
      anonymous: `a-${rng.hex(12)}`,
      device: `d-${rng.hex(12)}`,
      user: `m-${100_000 + n}`,
      form: rng.chance(0.5) ? 'long form' : 'short form',
      branch: rng.pick(BRANCHES),
      guides: new Set(),
      borrowed: 0,
      member: rng.chance(0.22),
      signedIn: false,
    };
    p.signedIn = p.member && rng.chance(0.6);
    // Growth: the power below 1 makes later days likelier; some were there before.
    let at = this.start + (rng.chance(0.12) ? rng.next() / WEEKS : rng.next() ** 0.7) * WEEKS * 7 * DAY;
    while (at < this.o.now) {
      const weekday = new Date(at).getUTCDay();
      const busy = weekday === 0 ? 0.45 : weekday === 6 ? 1 : 0.75;
      const hour = 7 + Math.min(15, Math.abs(rng.exponential(6)));
      const dayStart = Math.floor(at / DAY) * DAY;
      if (rng.chance(busy)) this.visit(p, dayStart + hour * 3_600_000 + rng.next() * 3_600_000);
      if (!p.member && rng.chance(0.3)) return;
      at += DAY * (0.5 + rng.exponential(p.member ? 4 : 6));
    }
  }
}

/** The history, sorted by the time of receipt. About 7 messages a visitor. */
export const generate = (o: GeneratorOptions): GeneratedMessage[] => {
  const rng = seeded(o.seed);
  const history = new History(rng, o, makeTools(rng));
  for (let n = 0; n < o.visitors; n++) history.person(n);
  // One by one: a spread would put millions on the stack.
  for (const more of [pressed(history.out, o), sentByLibraries(history.out, o)]) for (const m of more) history.out.push(m);
  return history.out.sort((a, b) => a.receivedAt - b.receivedAt || (a.message.id < b.message.id ? -1 : 1));
};
