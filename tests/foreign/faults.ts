/** Faults that are planted in a foreign workspace, each with what must be found: a code at a source, whatever else has the same cause, and
 *  nothing beyond. `strength` is the share of what could be faulty that is.
 */
import type { Id } from '../../src/core/plan/plan';
import type { Foreign, Sent } from './workspace';

export interface Planted {
  readonly code: string;
  readonly sourceId: Id;
  /** Further codes that the same cause explains, at any source. */
  readonly also?: readonly string[];
}

export type Plant = (w: Foreign, strength: number) => { readonly w: Foreign; readonly expected: Planted | undefined };

const DAY_MS = 86_400_000;
const eventName = (w: Foreign, id: Id): string => w.plan.event[id]!.name;
const propertyName = (w: Foreign, id: Id): string => w.plan.property[id]!.name;
const inOrder = (messages: Sent[]): Sent[] => messages.sort((a, b) => a.receivedAt - b.receivedAt);
const at = (m: Sent): number => Date.parse(m.value.time);
const copy = (m: Sent): Sent => structuredClone(m);
const isOf = (m: Sent, sourceId: Id, name?: string): boolean => m.sourceId === sourceId && (name === undefined || m.value.name === name);
const isNew = (w: Foreign, m: Sent): boolean => m.value.release === w.releases[1];

/** Messages changed one by one: `change` gets a copy, and gives what stands in its place. */
const changed = (
  w: Foreign,
  strength: number,
  isMeant: (m: Sent) => boolean,
  change: (m: Sent, i: number) => Sent | readonly Sent[],
): Foreign => {
  let i = 0;
  const messages = w.messages.flatMap((m) => (isMeant(m) && w.random.next() < strength ? change(copy(m), i++) : [m]));
  return { ...w, messages: inOrder(messages) };
};

const withLag = (w: Foreign, sourceId: Id, expectedLagMs: number): Foreign['plan'] => ({
  ...w.plan,
  source: { ...w.plan.source, [sourceId]: { ...w.plan.source[sourceId]!, expectedLagMs } },
});

/** Faults of single messages. */
export const MESSAGE_FAULTS = {
  'number as text': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.otherClient, eventName(w, w.roles.viewed)) && isNew(w, m),
      (m) => {
        const name = propertyName(w, w.roles.measure);
        m.value.properties[name] = String(m.value.properties[name]);
        return m;
      },
    ),
    expected: { code: 'wrong-type', sourceId: w.roles.otherClient, also: ['parity'] },
  }),
  'value off the list': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)) && isNew(w, m),
      (m) => {
        m.value.properties[propertyName(w, w.roles.choice)] = 'zinc & tin';
        return m;
      },
    ),
    expected: { code: 'value-not-allowed', sourceId: w.roles.client },
  }),
  'required left out': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.asked)),
      (m) => {
        m.value.properties = Object.fromEntries(Object.entries(m.value.properties).filter(([k]) => k !== propertyName(w, w.roles.note)));
        return m;
      },
    ),
    expected: { code: 'property-missing', sourceId: w.roles.client },
  }),
  'another case of the name': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.otherClient, eventName(w, w.roles.viewed)) && isNew(w, m),
      (m) => {
        const name = m.value.name!;
        m.value.name = name === name.toUpperCase() ? name.toLowerCase() : name.toUpperCase();
        return m;
      },
    ),
    expected: { code: 'unknown-event', sourceId: w.roles.otherClient, also: ['volume-change', 'silence'] },
  }),
  'template for a user ID': (w, s) => {
    const template = w.random.pick([
      '{{user_id}}',
      '${userId}',
      '<user_id>',
      '__USER_ID__',
      '#{user_id}',
      '[[user]]',
      ':userId',
      'your_user_id',
      '(null)',
      'nil',
      'demo',
      '-',
      'false',
      '%USER_ID%',
      'P-000123',
    ]);
    return {
      w: changed(
        w,
        s,
        (m) => isOf(m, w.roles.client) && isNew(w, m) && w.person in m.value.ids,
        (m) => {
          m.value.ids[w.person] = template;
          return m;
        },
      ),
      expected: {
        code: 'placeholder-value',
        sourceId: w.roles.client,
        also: ['user-id-dropped', 'users-never-linked', 'repeated', 'over-common-id'],
      },
    };
  },
  'address for a user ID': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.server, eventName(w, w.roles.rare)),
      (m) => {
        m.value.ids[w.person] = `${String(m.value.ids[w.person])}@example.org`;
        return m;
      },
    ),
    expected: { code: 'personal-identifier', sourceId: w.roles.server, also: ['users-never-linked'] },
  }),
  'identifier kind that is not planned': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.otherClient) && isNew(w, m),
      (m) => {
        m.value.ids['advert_key'] = 'shared-by-all';
        return m;
      },
    ),
    expected: { code: 'unplanned-identifier', sourceId: w.roles.otherClient },
  }),
  'address deep in an unplanned property': (w, s) => ({
    w: changed(
      w,
      s * 0.2,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.asked)),
      (m) => {
        m.value.properties['extras'] = { contact: [{ mail: 'ada.lovelace@example.org' }] };
        return m;
      },
    ),
    expected: { code: 'personal-data', sourceId: w.roles.client },
  }),
  'telephone number in the address of a page': (w, s) => ({
    w: changed(
      w,
      s * 0.2,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)),
      (m) => {
        m.value.page = `${m.value.page ?? ''}?call=%2B351%20912%20345%20678`;
        return m;
      },
    ),
    expected: { code: 'personal-data', sourceId: w.roles.client },
  }),
  'user property off its list': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.client) && m.value.kind === 'identify',
      (m) => {
        m.value.user_properties = { [w.plan.userProperty[w.roles.trait]!.name]: 'Mars' };
        return m;
      },
    ),
    expected: { code: 'value-not-allowed', sourceId: w.roles.client },
  }),
} as const satisfies Record<string, Plant>;

/** Faults that show over many messages. */
export const MANY_FAULTS = {
  'double-fire': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)) && isNew(w, m),
      (m, i) => {
        const twin = copy(m);
        twin.value.id += `-t${i}`;
        twin.value.time = new Date(at(m) + 12).toISOString();
        twin.receivedAt += 3;
        return [m, twin];
      },
    ),
    expected: { code: 'double-fire', sourceId: w.roles.client, also: ['volume-change'] },
  }),
  'premature-trigger': (w, s) => {
    // Attempts that failed were never sent; now they are.
    const failed = changed(
      w,
      s * 0.3,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.asked)) && isNew(w, m),
      (m, i) => {
        const attempt = copy(m);
        attempt.value.id += `-a${i}`;
        attempt.value.properties[propertyName(w, w.roles.key)] = `failed-${i}`;
        attempt.value.time = new Date(at(m) - 9000).toISOString();
        attempt.receivedAt -= 9000;
        return [attempt, m];
      },
    );
    return { w: failed, expected: { code: 'premature-trigger', sourceId: w.roles.client, also: ['volume-change'] } };
  },
  'unit-suspicion': (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.otherClient, eventName(w, w.roles.viewed)) && isNew(w, m),
      (m) => {
        const name = propertyName(w, w.roles.measure);
        m.value.properties[name] = Math.round(Number(m.value.properties[name]) * w.unit.factor);
        return m;
      },
    ),
    expected: { code: 'unit-suspicion', sourceId: w.roles.otherClient, also: ['out-of-range'] },
  }),
  silence: (w, s) => {
    // The strength says for how long: three days at full strength.
    const hours = Math.max(1, 3 * s) * 24;
    const end = w.now - 6 * DAY_MS;
    return {
      w: changed(
        w,
        1,
        (m) => isOf(m, w.roles.server, eventName(w, w.roles.confirmed)) && at(m) >= end - (hours + 24) * 3_600_000 && at(m) < end,
        () => [],
      ),
      expected: { code: 'silence', sourceId: w.roles.server, also: ['premature-trigger', 'volume-change'] },
    };
  },
  // The strength is the share of messages that is lost, for ten days.
  'volume-change': (w, s) => ({
    w: changed(
      w,
      s * 0.98,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)) && at(m) >= w.now - 15 * DAY_MS && at(m) < w.now - 5 * DAY_MS,
      () => [],
    ),
    expected: { code: 'volume-change', sourceId: w.roles.client, also: ['silence'] },
  }),
  milestones: (w, s) => ({
    w: changed(
      w,
      s * 0.5,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.series)),
      (m, i) => {
        const again = copy(m);
        again.value.id += `-r${i}`;
        again.value.time = new Date(at(m) + 240_000).toISOString();
        again.receivedAt += 240_000;
        return again.receivedAt < w.now ? [m, again] : [m];
      },
    ),
    expected: { code: 'milestones', sourceId: w.roles.client, also: ['volume-change'] },
  }),
  repeated: (w, s) => ({
    w: changed(
      w,
      s,
      (m) => isOf(m, w.roles.otherClient, eventName(w, w.roles.signedIn)) && isNew(w, m),
      (m, i) => {
        const again = copy(m);
        again.value.id += `-s${i}`;
        again.value.time = new Date(at(m) + 90_000).toISOString();
        again.receivedAt += 90_000;
        return again.receivedAt < w.now ? [m, again] : [m];
      },
    ),
    expected: { code: 'repeated', sourceId: w.roles.otherClient, also: ['volume-change'] },
  }),
  'out-of-scope': (w, s) => ({
    w: changed(
      w,
      s * 0.3,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)),
      (m) => {
        m.value.page = (m.value.page ?? '').replace(/^\/(\w+)/, '/$1-archive');
        return m;
      },
    ),
    expected: { code: 'out-of-scope', sourceId: w.roles.client },
  }),
  'never-seen': (w) => ({
    w: changed(
      w,
      1,
      (m) => isOf(m, w.roles.server, eventName(w, w.roles.rare)),
      () => [],
    ),
    expected: { code: 'never-seen', sourceId: w.roles.server },
  }),
  'clock-ahead': (w, s) => {
    const devices = [
      ...new Set(w.messages.flatMap((m) => (m.sourceId === w.roles.otherClient ? [String(m.value.ids[w.device])] : []))),
    ].slice(0, Math.max(2, Math.round(12 * s)));
    return {
      w: changed(
        w,
        1,
        (m) => devices.includes(String(m.value.ids[w.device])),
        (m) => {
          m.value.time = new Date(at(m) + 5 * 3_600_000).toISOString();
          return m;
        },
      ),
      expected: { code: 'clock-ahead', sourceId: w.roles.otherClient, also: ['user-id-dropped', 'repeated', 'milestones'] },
    };
  },
  'clock-behind': (w, s) => {
    const devices = [
      ...new Set(w.messages.flatMap((m) => (m.sourceId === w.roles.otherClient ? [String(m.value.ids[w.device])] : []))),
    ].slice(0, Math.max(2, Math.round(24 * s)));
    return {
      w: changed(
        w,
        1,
        (m) => devices.includes(String(m.value.ids[w.device])),
        (m) => {
          m.value.time = new Date(m.receivedAt - 5 * 3_600_000 - 800).toISOString();
          return m;
        },
      ),
      expected: {
        code: 'clock-behind',
        sourceId: w.roles.otherClient,
        also: ['user-id-dropped', 'repeated', 'milestones', 'late-arrival', 'volume-change', 'premature-trigger'],
      },
    };
  },
  'too-old': (w, s) => ({
    w: changed(
      w,
      s * 0.05,
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)),
      (m) => {
        m.value.time = new Date(at(m) - 200 * DAY_MS).toISOString();
        return m;
      },
    ),
    expected: { code: 'too-old', sourceId: w.roles.client, also: ['user-id-dropped', 'repeated'] },
  }),
  // The strength says how much of it waits for two to six hours.
  'late-arrival': (w, s) => ({
    w: {
      ...changed(
        { ...w, plan: withLag(w, w.roles.client, 600_000) },
        s,
        (m) => isOf(m, w.roles.client) && m.receivedAt < w.now - 6 * 3_600_000,
        (m, i) => ({ ...m, receivedAt: m.receivedAt + (2 + ((i * 37) % 100) / 25) * 3_600_000 }),
      ),
    },
    expected: { code: 'late-arrival', sourceId: w.roles.client, also: [] },
  }),
  'no-user-id': (w) => ({
    w: changed(
      w,
      1,
      (m) => isOf(m, w.roles.otherClient),
      (m) => {
        m.value.ids = Object.fromEntries(Object.entries(m.value.ids).filter(([k]) => k !== w.person));
        return m;
      },
    ),
    expected: {
      code: 'no-user-id',
      sourceId: w.roles.otherClient,
      also: ['user-id-dropped', 'users-never-linked', 'no-identifier', 'repeated'],
    },
  }),
  'implausible-time': (w, s) => ({
    w: changed(
      w,
      Math.max(0.001, s * 0.01),
      (m) => isOf(m, w.roles.client, eventName(w, w.roles.viewed)),
      (m, i) => {
        m.value.time = ['1970-01-01T00:00:00Z', '2009-03-01T12:00:00Z', '2051-01-01T00:00:00Z', '0001-01-01T00:00:00Z'][i % 4]!;
        return m;
      },
    ),
    expected: { code: 'implausible-time', sourceId: w.roles.client, also: ['user-id-dropped', 'repeated'] },
  }),
  'id-reused': (w, s) => ({
    w: changed(
      w,
      s * 0.1,
      (m) => isOf(m, w.roles.otherClient) && isNew(w, m),
      (m, i) => {
        m.value.id = `order-${i % 7}`;
        return m;
      },
    ),
    expected: { code: 'id-reused', sourceId: w.roles.otherClient },
  }),
  'user-id-dropped': (w, s) => ({
    w: changed(
      w,
      s * 0.5,
      (m) => isOf(m, w.roles.client) && isNew(w, m) && w.person in m.value.ids && m.value.kind === undefined,
      (m) => {
        m.value.ids = Object.fromEntries(Object.entries(m.value.ids).filter(([k]) => k !== w.person));
        return m;
      },
    ),
    expected: { code: 'user-id-dropped', sourceId: w.roles.client, also: ['repeated'] },
  }),
  'users-never-linked': (w, s) => {
    // After the short form nobody is identified any more, on any client.
    const isShort = (m: Sent): boolean => m.value.properties[propertyName(w, w.roles.form)] === 'short';
    const lost = new Set(
      w.messages.flatMap((m) =>
        m.value.name === eventName(w, w.roles.joined) && isShort(m) && w.random.next() < s ? [String(m.value.ids[w.visitor])] : [],
      ),
    );
    return {
      w: {
        ...w,
        messages: w.messages.flatMap((m) => {
          if (m.sourceId === w.roles.server || !lost.has(String(m.value.ids[w.visitor])) || !(w.person in m.value.ids)) return [m];
          if (m.value.kind === 'identify') return [];
          const c = copy(m);
          c.value.ids = Object.fromEntries(Object.entries(c.value.ids).filter(([k]) => k !== w.person));
          return [c];
        }),
      },
      expected: { code: 'users-never-linked', sourceId: w.roles.client, also: ['user-id-dropped', 'repeated'] },
    };
  },
  'shared-device': (w, s) => {
    const hall = Math.max(1, Math.round(3 * s));
    return {
      w: changed(
        w,
        0.25,
        (m) => isOf(m, w.roles.otherClient) && w.person in m.value.ids && at(m) % 3 < hall,
        (m) => {
          m.value.ids[w.device] = `hall-${m.value.id.charCodeAt(m.value.id.length - 1) % hall}`;
          return m;
        },
      ),
      expected: {
        code: 'shared-device',
        sourceId: w.roles.otherClient,
        also: ['over-common-id', 'user-id-dropped', 'repeated', 'double-fire', 'milestones'],
      },
    };
  },
  'over-common-id': (w, s) => ({
    w: changed(
      w,
      Math.max(0.08, s * 0.3),
      (m) => isOf(m, w.roles.client) && !(w.person in m.value.ids) && m.value.kind === undefined,
      (m) => {
        m.value.ids[w.visitor] = 'v-crawler-7';
        return m;
      },
    ),
    expected: { code: 'over-common-id', sourceId: w.roles.client, also: ['repeated', 'milestones', 'double-fire', 'users-never-linked'] },
  }),
  // Where all of it differed, nobody could say which of the two sources does.
  parity: (w, s) => ({
    w: changed(
      w,
      s * 0.9,
      (m) => isOf(m, w.roles.otherClient, eventName(w, w.roles.asked)),
      (m) => {
        m.value.properties[propertyName(w, w.roles.note)] = 'gut';
        return m;
      },
    ),
    expected: { code: 'parity', sourceId: w.roles.otherClient },
  }),
  'too-many-values': (w, s) => ({
    w: {
      ...changed(
        w,
        s,
        (m) => isOf(m, w.roles.client, eventName(w, w.roles.asked)),
        (m, i) => {
          m.value.properties[propertyName(w, w.roles.note)] = `please ring at door ${i}`;
          return m;
        },
      ),
      plan: { ...w.plan, property: { ...w.plan.property, [w.roles.note]: { ...w.plan.property[w.roles.note]!, distinct: 4 } } },
    },
    expected: { code: 'too-many-values', sourceId: w.roles.client },
  }),
} as const satisfies Record<string, Plant>;

/** What must make no finding at all. */
export const HARMLESS = {
  'faulty messages of staging and of marked traffic': (w) => ({
    w: changed(
      w,
      0.3,
      (m) => isOf(m, w.roles.client),
      (m, i) => {
        const other = copy(m);
        other.value.id += `-x${i}`;
        if (i % 2) other.value.environment = 'staging';
        else other.value.marks = [['internal', 'test', 'robot'][i % 3]!];
        other.value.ids = { [w.visitor]: 'test', [w.person]: '{{user}}' };
        other.value.properties = { secret: 'someone@example.org' };
        return [m, other];
      },
    ),
    expected: undefined,
  }),
  'ten messages in a moment, each with a key of its own': (w) => {
    const [one] = w.messages.filter((m) => isOf(m, w.roles.client, eventName(w, w.roles.asked)));
    const burst = Array.from({ length: 10 }, (_, i) => {
      const m = copy(one!);
      m.value.id += `-b${i}`;
      m.value.time = new Date(at(one!) + 20 * i).toISOString();
      m.value.properties[propertyName(w, w.roles.key)] = `burst-${i}`;
      return m;
    });
    return { w: { ...w, messages: inOrder([...w.messages, ...burst]) }, expected: undefined };
  },
  'the same messages sent again': (w) => ({
    w: changed(
      w,
      0.02,
      () => true,
      (m) => [m, { ...copy(m), receivedAt: m.receivedAt + 4000 }],
    ),
    expected: undefined,
  }),
} as const satisfies Record<string, Plant>;
