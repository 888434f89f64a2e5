/** Messages and conditions made up at random, and what a condition means, said once more without columns. */
import fc from 'fast-check';
import type { Condition, Definition, Group, Operator, Subject } from '../../../src/core/definitions/definition';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { refOf } from '../../../src/core/plan/property-path';

const PAGES = [
  '',
  '/',
  '/tools',
  '/tools/drills',
  '/tools/drills?sort=price',
  'https://tools.example/tools/drills?sort=price#top',
  '/toolsmith',
  '/x?',
];
const TEXTS = ['', 'red', 'Red', 'reddish', '10', 'true', 'שלום', 'a'.repeat(300)];
const value = fc.oneof(
  fc.constantFrom<unknown>(...TEXTS, 0, 10, 10.5, -1, true, false, null),
  fc.constantFrom<unknown>([], ['red'], {}, { red: 1 }),
);

export const message: fc.Arbitrary<Omit<TableMessage, 'seq'>> = fc.record(
  {
    kind: fc.constantFrom('event', 'event', 'event', 'interaction', 'view', 'identify'),
    name: fc.constantFrom('Tool Viewed', 'tool_viewed', 'Loan Started'),
    sourceId: fc.constantFrom('web', 'app', 'server'),
    release: fc.constantFrom('', '1.0', '1.1'),
    occurredAt: fc.integer({ min: 0, max: 20 }).map((n) => n * 6 * 3_600_000),
    page: fc.constantFrom(...PAGES),
    ids: fc.constantFrom({}, { user: 'u1' }, { user: 'u2' }),
    properties: fc.dictionary(fc.constantFrom('colour', 'price', 'element'), value, { maxKeys: 3 }),
    environment: fc.constantFrom(undefined, 'production', 'staging'),
  },
  { noNullPrototype: true },
) as fc.Arbitrary<Omit<TableMessage, 'seq'>>;

const subject: fc.Arbitrary<Subject> = fc.constantFrom<Subject>(
  { of: 'event name' },
  { of: 'source' },
  { of: 'environment' },
  { of: 'release' },
  { of: 'page path' },
  { of: 'page query' },
  { of: 'page address' },
  { of: 'property', name: refOf(['colour']) },
  { of: 'property', name: refOf(['price']) },
  { of: 'property', name: refOf(['element', 'red']) },
  { of: 'property', name: refOf(['never seen']) },
);
const OPERATORS: readonly Operator[] = [
  'is', 'is not', 'is one of', 'is none of', 'contains', 'starts with', 'matches', 'at least', 'at most', 'more than', 'less than',
  'is present', 'is absent', 'is empty',
]; // prettier-ignore
const operand = fc.constantFrom<string | number | boolean>(
  ...TEXTS.slice(1, 7), '/tools', 'tools', '^/tools', 'web', 'app', 'production', '1.0', 'Tool Viewed', 'sort=price', 1, 10, 0, true, false,
); // prettier-ignore
export const condition: fc.Arbitrary<Condition> = fc.record({
  subject,
  op: fc.constantFrom(...OPERATORS),
  values: fc.array(operand, { minLength: 1, maxLength: 3 }),
});
export const group: fc.Arbitrary<Group> = fc.record({
  match: fc.constantFrom('all', 'any'),
  conditions: fc.array(condition, { maxLength: 3 }),
  groups: fc.array(fc.record({ match: fc.constantFrom('all', 'any'), conditions: fc.array(condition, { maxLength: 3 }) }), {
    maxLength: 2,
  }),
});
export const definition: fc.Arbitrary<Definition> = fc.record({
  name: fc.constant('Narrow'),
  source: fc.constantFrom<Definition['source']>(
    { of: 'events', names: ['Tool Viewed'] },
    { of: 'events', names: ['Tool Viewed', 'tool_viewed', 'Tool Viewed'] },
    { of: 'events', names: [] },
    { of: 'interactions' },
    { of: 'views' },
  ),
  where: group,
  changes: fc.constant([]),
  since: fc.constantFrom(undefined, 5 * 24 * 3_600_000),
});

export const ENVIRONMENTS: Readonly<Record<string, string>> = { web: 'production', app: 'staging', server: '' };

const valueAt = (m: Omit<TableMessage, 'seq'>, s: Subject): unknown => {
  const page = m.page ?? '';
  const [address = '', query = ''] = page.replace(/#.*$/, '').split('?', 2);
  const told = (v: string | undefined): string | undefined => (v === '' ? undefined : v);
  switch (s.of) {
    case 'event name':
      return m.kind === 'event' ? m.name : undefined;
    case 'source':
      return m.sourceId;
    case 'environment':
      return told(m.environment ?? ENVIRONMENTS[m.sourceId]);
    case 'release':
      return told(m.release);
    case 'page path':
      return page === ''
        ? undefined
        : `/${address
            .replace(/^https:\/\/[^/]*/, '')
            .split('/')
            .filter(Boolean)
            .join('/')}`;
    case 'page query':
      return told(query);
    case 'page address':
      return told(page);
    default: {
      const path = Array.isArray(s.name) ? s.name : [s.name];
      let v: unknown = s.of === 'property' ? m.properties : m.userProperties;
      for (const key of path as readonly string[])
        v =
          v !== null && typeof v === 'object' && !Array.isArray(v) && Object.hasOwn(v, key)
            ? (v as Record<string, unknown>)[key]
            : undefined;
      return v ?? undefined;
    }
  }
};

const isScalar = (v: unknown): boolean => ['string', 'number', 'boolean'].includes(typeof v);

export const naiveHolds = (m: Omit<TableMessage, 'seq'>, { subject: s, op, values }: Condition): boolean => {
  const v = valueAt(m, s);
  if (op === 'is absent') return v === undefined;
  if (v === undefined) return false;
  const [first] = values;
  switch (op) {
    case 'is present':
      return true;
    case 'is empty':
      return v === '' || (typeof v === 'object' && v !== null && Object.keys(v).length === 0);
    case 'is':
      return isScalar(v) && v === first;
    case 'is not':
      return !(isScalar(v) && v === first);
    case 'is one of':
      return values.some((x) => x === v);
    case 'is none of':
      return !values.some((x) => x === v);
    case 'contains':
      return typeof v === 'string' && typeof first === 'string' && v.indexOf(first) >= 0;
    case 'starts with':
      return typeof v === 'string' && typeof first === 'string' && v.slice(0, first.length) === first;
    case 'matches':
      return typeof v === 'string' && typeof first === 'string' && new RegExp(first, 'u').test(v);
    default:
      if (typeof v !== 'number' || typeof first !== 'number') return false;
      return op === 'at least' ? v >= first : op === 'at most' ? v <= first : op === 'more than' ? v > first : v < first;
  }
};

const naiveGroup = (m: Omit<TableMessage, 'seq'>, g: Pick<Group, 'match' | 'conditions'> & Partial<Group>): boolean => {
  const parts = [...g.conditions.map((c) => naiveHolds(m, c)), ...(g.groups ?? []).map((x) => naiveGroup(m, x))];
  return g.match === 'all' ? !parts.includes(false) : parts.includes(true);
};

export const naiveTakes = (m: Omit<TableMessage, 'seq'>, d: Definition): boolean =>
  (d.source.of === 'events'
    ? m.kind === 'event' && d.source.names.includes(m.name)
    : m.kind === (d.source.of === 'views' ? 'view' : 'interaction')) &&
  (d.since === undefined || m.occurredAt >= d.since) &&
  naiveGroup(m, d.where);

export const tableFrom = (messages: readonly Omit<TableMessage, 'seq'>[]): MessageTable => {
  const table = new MessageTable();
  messages.forEach((m, i) => table.append({ ...m, seq: i + 1 }));
  return table;
};
