/** Workspaces drawn at random from a seed: their names, units, zones, clocks, sources, plans and people have nothing of the demo. What is sent is
 *  clean: it conforms to its plan in everything that a check looks at.
 */
import { toCase, type CaseStyle } from '../../src/core/naming/case-style';
import { blank, DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../src/core/plan/edit';
import { emptyPlan, type BodyOf, type EventProperty, type Id, type Kind, type Plan, type Property } from '../../src/core/plan/plan';
import { seeded, type Rng as Random } from '../../src/demo/random';

export interface Sent {
  sourceId: Id;
  receivedAt: number;
  value: {
    id: string;
    name?: string;
    kind?: 'identify' | 'view';
    time: string;
    ids: Record<string, unknown>;
    properties: Record<string, unknown>;
    user_properties?: Record<string, unknown>;
    page?: string;
    release: string;
    environment?: string;
    marks?: string[];
  };
}

/** What a fault needs to know of the workspace. Ids of the plan's entities. */
export interface Roles {
  readonly client: Id;
  readonly otherClient: Id;
  readonly server: Id;
  /** Fires on pages of a scope, with a measured number. */
  readonly viewed: Id;
  /** A request of a client, and what confirms it. */
  readonly asked: Id;
  readonly confirmed: Id;
  readonly series: Id;
  readonly signedIn: Id;
  readonly joined: Id;
  readonly rare: Id;
  readonly measure: Id;
  readonly choice: Id;
  readonly note: Id;
  readonly key: Id;
  readonly form: Id;
  readonly trait: Id;
}

export interface Foreign {
  readonly seed: number;
  readonly random: Random;
  readonly plan: Plan;
  readonly roles: Roles;
  readonly messages: Sent[];
  readonly now: number;
  readonly from: number;
  readonly person: string;
  readonly visitor: string;
  readonly device: string;
  /** Releases of the clients, the newest last, and when that came out. */
  readonly releases: readonly [string, string];
  readonly newSince: number;
  readonly unit: { readonly planned: string; readonly sent: string; readonly factor: number };
}

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;

const OBJECTS = [
  'ferry',
  'ticket',
  'greenhouse',
  'lesson',
  'recipe',
  'parcel',
  'court',
  'podcast',
  'meter',
  'berth',
  'choir',
  'orchard',
  'locker',
  'sample',
  'waybill',
];
const ZONES = [
  'UTC', 'Europe/Lisbon', 'America/New_York', 'America/Sao_Paulo', 'Asia/Kolkata', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'Pacific/Auckland', 'Africa/Cairo',
  'America/Santiago', 'Asia/Beirut', 'America/Havana', 'Pacific/Apia', 'Asia/Tokyo', 'America/St_Johns', 'Atlantic/Azores', 'Pacific/Kiritimati', 'America/Los_Angeles',
]; // prettier-ignore
const EVENT_STYLES: readonly CaseStyle[] = [
  'Title Case',
  'snake_case',
  'camelCase',
  'Sentence case',
  'kebab-case',
  'CONSTANT_CASE',
  'PascalCase',
];
const PROPERTY_STYLES: readonly CaseStyle[] = ['snake_case', 'camelCase', 'kebab-case', 'PascalCase'];
/** Planned unit, what may be sent instead, and how many times the value it is. */
const UNITS = [
  ['min', 'seconds', 60], ['h', 'minutes', 60], ['d', 'hours', 24], ['kg', 'grams', 1000], ['km', 'metres', 1000], ['m', 'centimetres', 100],
  ['s', 'milliseconds', 1000], ['major units', 'minor units of the currency', 100], ['MB', 'kilobytes', 1000], ['h', 'seconds', 3600],
] as const; // prettier-ignore

const gaussian = (r: Random): number => Math.sqrt(-2 * Math.log(1 - r.next())) * Math.cos(2 * Math.PI * r.next());
const poisson = (r: Random, mean: number): number => {
  if (mean > 60) return Math.max(0, Math.round(mean + Math.sqrt(mean) * gaussian(r)));
  let n = 0;
  for (let p = r.next(), limit = Math.exp(-mean); p > limit; p *= r.next()) n++;
  return n;
};
const hex = (r: Random, n: number): string => r.hex(n);

/** A plan and a history for it. `size` is about how many people there are. */
export const foreignWorkspace = (seed: number, size?: number): Foreign => {
  const random = seeded(seed * 7919 + 17);
  const r = random;
  const now = Date.parse('2025-01-15T00:00:00Z') + r.int(0, 900) * DAY_MS + r.int(0, 86_399) * 1000;
  const days = r.int(58, 80);
  const from = now - days * DAY_MS;
  const eventStyle = r.pick(EVENT_STYLES);
  const propertyStyle = r.pick(PROPERTY_STYLES);
  const objects = [...OBJECTS].sort(() => r.next() - 0.5);
  const eventName = (words: string): string => toCase(words, eventStyle);
  const propertyName = (words: string): string => toCase(words, propertyStyle);
  const person = r.pick(['user', 'user', 'reader_no', 'pupil', 'holder']);
  const visitor = r.pick(['anonymous', 'browser', 'visitor_key']);
  const device = r.pick(['device', 'handset', 'terminal']);
  const [o1, o2, o3, o4] = objects as [string, string, string, string];
  const [planned, sentUnit, factor] = r.pick(UNITS);
  const center = r.pick([3, 8, 20, 45]);
  const whole = r.next() < 0.5;
  const hasRange = r.next() < 0.6;
  const edits: Edit[] = [];
  const create = <K extends Kind>(kind: K, id: Id, body: Partial<BodyOf[K]>): Id => {
    edits.push({ op: 'create', kind, id, body: blank(kind, body) });
    return id;
  };
  const property = (words: string, body: Partial<Property> = {}): Id =>
    create('property', `p-${words}`, { name: propertyName(words), ...body });
  const required = (...ids: Id[]): EventProperty[] => ids.map((propertyId) => ({ propertyId, required: true }));

  const client = create('source', 's1', {
    name: `${o1} site`, kind: 'web', mark: 'A', expectedLagMs: 60_000, idKinds: { beforeSignIn: [visitor], afterSignIn: [visitor, person] },
  }); // prettier-ignore
  const otherClient = create('source', 's2', {
    name: `${o1} app`, kind: 'mobile', mark: 'B', expectedLagMs: 3_600_000, idKinds: { beforeSignIn: [visitor, device], afterSignIn: [visitor, device, person] },
  }); // prettier-ignore
  const server = create('source', 's3', {
    name: `${o2} office`, kind: 'server', mark: 'C', expectedLagMs: 60_000, idKinds: { beforeSignIn: [], afterSignIn: [person] },
  }); // prettier-ignore
  create('identifierKind', 'k1', { name: person, identifies: 'person', sample: 'P-000123' });
  create('identifierKind', 'k2', { name: visitor, identifies: 'visit', sample: 'v-sample-1' });
  create('identifierKind', 'k3', { name: device, identifies: 'device', sample: 'd-sample-1' });
  const values = [
    ...new Set(Array.from({ length: r.int(3, 6) }, () => r.pick(['amber', 'birch', 'cobalt', 'dune', 'elm', 'fern', 'garnet', 'heath']))),
  ];
  const choice = property(`${o1} sort`, { allowed: values, samples: values.slice(0, 2) });
  const low = center / 6;
  const measure = property(`${o1} measure`, {
    type: whole ? 'integer' : 'number',
    unit: planned,
    samples: [String(Math.round(center)), String(Math.round(center * 1.5))],
    ...(hasRange ? { min: 0, max: Math.ceil(center * 5) } : {}),
  });
  const note = property(`${o2} remark`, { samples: ['fine', 'late'] });
  const key = property(`${o2} request`, { samples: ['q-1', 'q-2'] });
  const share = property('part read', { type: 'integer', unit: '%', min: 0, max: 100, samples: ['25', '100'] });
  const form = property(`${o3} form`, { allowed: ['long', 'short'], samples: ['long', 'short'] });
  const paid = property(`${o2} prepaid`, { type: 'boolean', samples: ['true', 'false'] });
  const tags = property(`${o2} tags`, { type: 'list of string', samples: ['new', 'old'] });
  const trait = create('userProperty', 'u1', {
    name: propertyName('standing'),
    type: 'string',
    allowed: ['fresh', 'regular'],
    samples: ['fresh', 'regular'],
    sources: [client, otherClient],
  });
  const scope = `/${o1}s`;
  const built = (...ids: Id[]) => ids.map((sourceId) => ({ sourceId, required: true, build: 'built' as const }));
  const event = (id: Id, words: string, body: Partial<BodyOf['event']>): Id =>
    create('event', id, { name: eventName(words), trigger: 'It has happened.', ...body });
  const viewed = event('viewed', `${o1} viewed`, {
    triggerKind: 'viewed',
    sources: built(client, otherClient),
    properties: [...required(choice, measure), { propertyId: tags, required: false }],
    scope,
  });
  const confirmed = event('confirmed', `${o2} granted`, { sources: built(server), properties: required(key) });
  const asked = event('asked', `${o2} ordered`, {
    sources: built(client, otherClient), properties: required(key, paid, note), counterpart: { eventName: eventName(`${o2} granted`), keyProperty: propertyName(`${o2} request`), windowMs: 20_000 },
  }); // prettier-ignore
  const series = event('series', `${o3} read`, {
    triggerKind: 'milestone',
    sources: built(client),
    properties: required(share),
    series: { property: propertyName('part read'), values: ['25', '50', '75', '100'] },
  });
  const signedIn = event('signed-in', 'signed in', { sources: built(client, otherClient), oncePer: 'session' });
  const joined = event('joined', `${o3} begun`, { sources: built(client, otherClient), properties: required(form) });
  event('known', `${o3} accepted`, { sources: built(server) });
  const rare = event('rare', `${o4} closed`, { sources: built(server), properties: required(choice) });

  const settings = {
    ...DEFAULT_SETTINGS,
    name: `${o1} co`,
    timeZone: r.pick(ZONES),
    weekStartsOn: r.int(1, 7),
    currency: 'EUR',
    identity: {
      ...DEFAULT_SETTINGS.identity,
      links: [
        [visitor, person],
        [device, person],
        [visitor, device],
      ] as [string, string][],
    },
  };
  const applied = applyEdits(emptyPlan(settings), edits);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problem));
  const plan = applied.plan;

  // The people, day by day.
  const messages: Sent[] = [];
  const releases = [`${r.int(1, 9)}.${r.int(0, 9)}`, `${r.int(10, 19)}.${r.int(0, 9)}`] as const;
  const newSince = from + days * (0.45 + r.next() * 0.2) * DAY_MS;
  let n = 0;
  const nameOf = (id: Id): string => plan.event[id]!.name;
  const prop = (id: Id): string => plan.property[id]!.name;
  const push = (sourceId: Id, at: number, ids: Record<string, unknown>, more: Partial<Sent['value']>): Sent => {
    const lag =
      sourceId === otherClient && r.next() < 0.05 ? r.int(1, 40) * MINUTE_MS : -Math.log(1 - r.next()) * (sourceId === server ? 300 : 2000);
    const m: Sent = {
      sourceId,
      receivedAt: Math.round(at + lag),
      value: {
        id: `${seed}-${(n++).toString(36)}-${hex(r, 6)}`,
        time: new Date(Math.round(at)).toISOString(),
        ids,
        properties: {},
        release: sourceId === server ? 'srv' : at >= newSince ? releases[1] : releases[0],
        ...more,
      },
    };
    if (m.receivedAt < now) messages.push(m);
    return m;
  };
  const amount = (): number => {
    const x = Math.min(center * 4.5, Math.max(low, center * Math.exp(0.55 * gaussian(r))));
    return whole ? Math.max(1, Math.round(x)) : Math.round(x * 10) / 10;
  };
  const people = size ?? r.int(420, 700);
  const weekday = Array.from({ length: 7 }, () => 0.6 + r.next() * 0.8);
  const growth = r.next() * 0.008;
  const busy = 0.11 + r.next() * 0.05;
  let requests = 0;
  for (let p = 0; p < people; p++) {
    const source = r.next() < 0.55 ? client : otherClient;
    const own: Record<string, string> = {
      [visitor]: `v-${hex(r, 10)}`,
      ...(source === otherClient ? { [device]: `d-${hex(r, 10)}` } : {}),
    };
    const userId = `P-${(100_000 + seed * 7 + p * 13).toString()}`;
    const standing = r.pick(['fresh', 'regular']);
    let known = false;
    const willJoin = r.next() < 0.6;
    for (let d = 0; d < days + 1; d++) {
      const rate = busy * weekday[d % 7]! * Math.exp(growth * (d - days / 2));
      for (let visit = poisson(r, rate); visit > 0; visit--) {
        let at = from + d * DAY_MS + (6 + r.next() * 16) * 3_600_000;
        if (at >= now) continue;
        const ids = (): Record<string, string> => ({ ...own, ...(known ? { [person]: userId } : {}) });
        const step = (): number => (at += 5_000 + r.next() * 100_000);
        if (known && r.next() < 0.3) push(source, step(), ids(), { name: nameOf(signedIn) });
        for (let k = r.int(1, 3); k > 0; k--)
          push(source, step(), ids(), {
            name: nameOf(viewed),
            page: `${scope}/${r.int(1, 40)}`,
            properties: {
              [prop(choice)]: r.pick(values),
              [prop(measure)]: amount(),
              ...(r.next() < 0.3 ? { [prop(tags)]: r.pick([['new'], ['old', 'new'], []]) } : {}),
            },
          });
        if (source === client && r.next() < 0.25) {
          const page = `/read/${r.int(1, 30)}`;
          const reached = r.int(1, 4);
          for (let k = 0; k < reached; k++)
            push(source, step(), ids(), { name: nameOf(series), page, properties: { [prop(share)]: 25 * (k + 1) } });
        }
        if (!known && willJoin && r.next() < 0.35) {
          const value = r.pick(['long', 'short']);
          push(source, step(), ids(), { name: nameOf(joined), properties: { [prop(form)]: value } });
          if (r.next() < 0.8) {
            push(server, (at += 4000), { [person]: userId }, { name: nameOf('known') });
            known = true;
            push(source, (at += 1500), ids(), { kind: 'identify', user_properties: { [plan.userProperty[trait]!.name]: standing } });
          }
        }
        if (known && r.next() < 0.5) {
          const request = `q-${seed}-${(requests++).toString(36)}`;
          push(source, step(), ids(), {
            name: nameOf(asked), properties: { [prop(key)]: request, [prop(paid)]: r.next() < 0.5, [prop(note)]: r.pick(['fine', 'late', 'as always', 'bring two']) },
          }); // prettier-ignore
          push(server, at + 200 + r.next() * 3000, { [person]: userId }, { name: nameOf(confirmed), properties: { [prop(key)]: request } });
          if (r.next() < 0.5)
            push(
              server,
              at + r.int(1, 50) * MINUTE_MS,
              { [person]: userId },
              { name: nameOf(rare), properties: { [prop(choice)]: r.pick(values) } },
            );
        }
      }
    }
  }
  messages.sort((a, b) => a.receivedAt - b.receivedAt);
  return {
    seed, random, plan, now, from, messages, person, visitor, device, releases, newSince,
    roles: { client, otherClient, server, viewed, asked, confirmed, series, signedIn, joined, rare, measure, choice, note, key, form, trait },
    unit: { planned, sent: sentUnit, factor },
  }; // prettier-ignore
};

/** The same with so many more of the client's views a day, each of a visitor who is seen but once: they come by themselves, at one rate. */
export const withCrowd = (w: Foreign, perDay: number): Foreign => {
  const r = w.random;
  const like = w.messages.filter((m) => m.sourceId === w.roles.client && m.value.name === w.plan.event[w.roles.viewed]!.name);
  const crowd: Sent[] = [];
  const days = Math.floor((w.now - w.from) / DAY_MS);
  for (let d = 0; d < days; d++)
    for (let k = poisson(r, perDay); k > 0; k--) {
      const at = Math.round(w.from + (d + r.next()) * DAY_MS);
      const one = like[r.int(0, like.length - 1)]!;
      const release = at >= w.newSince ? w.releases[1] : w.releases[0];
      const value = { ...one.value, id: `c-${d}-${k}`, time: new Date(at).toISOString(), ids: { [w.visitor]: `c-${hex(r, 12)}` }, release };
      crowd.push({ sourceId: w.roles.client, receivedAt: at + 900, value });
    }
  return { ...w, messages: [...w.messages, ...crowd.filter((m) => m.receivedAt < w.now)].sort((a, b) => a.receivedAt - b.receivedAt) };
};
