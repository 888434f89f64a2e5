/** Questions about a foreign workspace, one of each formula with conditions drawn at random, and what of their figures is compared. */
import type { Figure } from '../../src/core/questions/figure';
import type { Condition, Formula, Step } from '../../src/core/questions/formula';
import type { Foreign } from './workspace';
import { refOfProperty, type PropertyRef } from '../../src/core/plan/property-path';

const DAY_MS = 86_400_000;

/** Some messages get dates that cannot be; figures must neither drown in periods nor lose the others. */
export const withAbsurdDates = (w: Foreign): Foreign => ({
  ...w,
  messages: w.messages.map((m, i) =>
    i % 173 === 5
      ? { ...m, value: { ...m.value, time: ['1970-01-01T00:00:00Z', '1999-12-31T23:59:59Z', '2061-07-04T00:00:00Z'][i % 3]! } }
      : m,
  ),
});

export const formulasFor = (w: Foreign): Formula[] => {
  const r = w.random;
  const name = (id: string): string => w.plan.event[id]!.name;
  const property = (id: string): PropertyRef => refOfProperty(w.plan.property[id]!);
  const { roles } = w;
  const where = (): Condition[] =>
    r.pick<() => Condition[]>([
      () => [],
      () => [{ property: property(roles.choice), is: r.pick(w.plan.property[roles.choice]!.allowed) }],
      // As somebody writes it who does not know the type: the plan says what it is.
      () => [
        {
          property: property(roles.measure),
          is: String(r.int(2, 20)),
          op: r.pick(['at least', 'less than', 'more than', 'at most'] as const),
        },
      ],
      () => [{ property: property(roles.choice), is: r.pick(w.plan.property[roles.choice]!.allowed), op: 'is not' }],
    ])();
  const viewed = (): Step => ({ eventName: name(roles.viewed), where: where() });
  const plain = (id: string): Step => ({ eventName: name(id), where: [] });
  const tags = refOfProperty(Object.values(w.plan.property).find((p) => p.type === 'list of string')!);
  const period = () => r.pick(['day', 'week', 'month'] as const);
  return [
    { type: 'active persons', events: [viewed(), plain(roles.asked)], period: period() },
    {
      type: 'active persons',
      events: [{ eventName: name(roles.viewed), where: [{ property: tags, is: '', op: r.pick(['is present', 'is absent'] as const) }] }],
      period: period(),
    },
    { type: 'conversion', steps: [plain(roles.asked), plain(roles.confirmed)], windowMs: r.pick([5000, 60_000]), overDays: r.int(5, 60) },
    {
      type: 'conversion',
      steps: [viewed(), plain(roles.asked), plain(roles.confirmed)],
      windowMs: r.pick([300_000, DAY_MS]),
      overDays: r.int(5, 20),
    },
    { type: 'average per person', event: viewed(), per: 'persons with it', active: [], period: period() },
    {
      type: 'retention',
      start: viewed(),
      returning: plain(roles.viewed),
      day: r.int(1, 14),
      mode: r.pick(['on day', 'on or after day'] as const),
      overDays: r.int(20, 60),
    },
    { type: 'total of a property', event: viewed(), property: property(roles.measure), period: period() },
    { type: 'top values', event: viewed(), property: property(roles.choice), measure: 'messages', overDays: r.int(3, 60) },
    { type: 'share who also did', first: viewed(), also: plain(roles.asked), overDays: r.int(3, 60) },
    {
      type: 'rate of a value',
      event: plain(roles.asked),
      condition: { property: refOfProperty(Object.values(w.plan.property).find((p) => p.type === 'boolean')!), is: 'true' },
      of: r.pick(['messages', 'persons'] as const),
      overDays: r.int(3, 60),
    },
  ];
};

/** What of a figure is compared. */
export const told = (f: Figure): unknown => {
  const filled = <P extends { readonly from: number }>(points: readonly P[], is: (p: P) => boolean, say: (p: P) => unknown) =>
    Object.fromEntries(points.filter(is).map((p) => [p.from, say(p)]));
  switch (f.type) {
    case 'active persons':
      return filled(
        f.points,
        (p) => p.messages > 0,
        (p) => [p.persons, p.messages],
      );
    case 'average per person':
      return filled(
        f.points,
        (p) => p.messages > 0,
        (p) => p.value,
      );
    case 'total of a property':
      return filled(
        f.points,
        (p) => p.n > 0,
        (p) => [p.n, p.sum, p.median, p.p95],
      );
    case 'conversion':
      return f.steps.map((s) => s.persons);
    case 'retention':
      return [f.size, f.returned, f.young];
    case 'top values':
      return Object.fromEntries(f.ranked.map((v) => [String(v.value), v.amount]));
    case 'share who also did':
      return [f.first, f.both];
    default:
      return [f.total, f.hits];
  }
};

export const rounded = (v: unknown): unknown =>
  JSON.parse(JSON.stringify(v, (_, x: unknown) => (typeof x === 'number' && !Number.isInteger(x) ? Number(x.toPrecision(10)) : x)));
