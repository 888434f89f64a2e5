/** Figures worked out again in the plainest way, over lists of messages: slow, and independent of the columns. Calendars by temporal-polyfill 1. */
import { Temporal } from 'temporal-polyfill';
import type { Condition, Formula, Period, Step } from '../../src/core/questions/formula';
import type { Foreign, Sent } from './workspace';
import { valueAt } from '../../src/core/plan/property-path';

export interface Plain {
  readonly name: string;
  readonly kind: string;
  readonly at: number;
  readonly received: number;
  readonly source: string;
  readonly row: number;
  readonly person: number;
  readonly properties: Record<string, unknown>;
}

const DAY_MS = 86_400_000;

/** Persons as everything that hangs together by the links of the plan; for workspaces in which no guard speaks. */
export const plainMessages = (w: Foreign): Plain[] => {
  const links = Object.values(w.plan.settings)[0]!.identity.links;
  const group = new Map<string, number>();
  const key = (kind: string, v: unknown): string => JSON.stringify([kind, String(v)]);
  let next = 0;
  const merge = (a: string, b: string): void => {
    const [x, y] = [group.get(a)!, group.get(b)!];
    if (x !== y) for (const [k, g] of group) if (g === y) group.set(k, x);
  };
  const seenIds = new Set<string>();
  const kept = w.messages.filter((m) => !seenIds.has(m.value.id) && seenIds.add(m.value.id));
  for (const m of kept) for (const [kind, v] of Object.entries(m.value.ids)) if (!group.has(key(kind, v))) group.set(key(kind, v), next++);
  const seenPairs = new Set<string>();
  for (const m of kept)
    for (const [a, b] of links)
      if (a in m.value.ids && b in m.value.ids) {
        const pair = key(a, m.value.ids[a]) + key(b, m.value.ids[b]);
        if (seenPairs.has(pair)) continue;
        seenPairs.add(pair);
        merge(key(a, m.value.ids[a]), key(b, m.value.ids[b]));
      }
  const personOf = (m: Sent): number => {
    const kinds = Object.keys(m.value.ids).sort((a, b) => Number(b === w.person) - Number(a === w.person) || (a < b ? -1 : 1));
    return kinds.length === 0 ? -1 : group.get(key(kinds[0]!, m.value.ids[kinds[0]!]))!;
  };
  return kept.map((m, row) => ({
    name: m.value.name ?? '',
    kind: m.value.kind ?? 'event',
    at: Date.parse(m.value.time),
    received: m.receivedAt,
    source: m.sourceId,
    row,
    person: personOf(m),
    properties: m.value.properties,
  }));
};

const holds = (v: unknown, c: Condition): boolean => {
  switch (c.op ?? 'is') {
    case 'is present':
      return v !== undefined;
    case 'is absent':
      return v === undefined;
    case 'is':
      return v === c.is;
    case 'is not':
      return v !== undefined && v !== c.is;
    case 'contains':
      return typeof v === 'string' && v.includes(String(c.is));
    case 'at least':
      return typeof v === 'number' && v >= Number(c.is);
    case 'at most':
      return typeof v === 'number' && v <= Number(c.is);
    case 'more than':
      return typeof v === 'number' && v > Number(c.is);
    default:
      return typeof v === 'number' && v < Number(c.is);
  }
};

const fits = (m: Plain, s: Step): boolean =>
  m.kind === 'event' && m.name === s.eventName && s.where.every((c) => holds(valueAt(m.properties, c.property), c));

const beginOf = (at: number, period: Period, zone: string, weekStartsOn: number): number => {
  const date = Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(zone).toPlainDate();
  const day =
    period === 'day' ? date : period === 'month' ? date.with({ day: 1 }) : date.subtract({ days: (date.dayOfWeek - weekStartsOn + 7) % 7 });
  return day.toZonedDateTime(zone).epochMilliseconds;
};

const distinct = (list: readonly Plain[]): number => new Set(list.filter((m) => m.person >= 0).map((m) => m.person)).size;

const quantile = (sorted: readonly number[], p: number): number => {
  const h = (sorted.length - 1) * p;
  const low = Math.floor(h);
  return sorted[low]! + (h - low) * ((sorted[low + 1] ?? sorted[low]!) - sorted[low]!);
};

const isAfter = (a: Plain, b: Plain, toleranceMs: number): boolean =>
  a.source === b.source ? b.at > a.at || (b.at === a.at && b.row > a.row) : b.at >= a.at - toleranceMs;

/** What of a figure can be compared. Periods by their begin; only those with a message. */
export const bruteFigure = (w: Foreign, messages: readonly Plain[], f: Formula): unknown => {
  const { timeZone, weekStartsOn, clockToleranceSeconds } = Object.values(w.plan.settings)[0]!;
  const until = messages.filter((m) => m.at <= w.now);
  const begin = (at: number, p: Period): number => beginOf(at, p, timeZone, weekStartsOn);
  const byPeriod = (list: readonly Plain[], p: Period): Map<number, Plain[]> => {
    const out = new Map<number, Plain[]>();
    for (const m of list) {
      // What is dated more than a year before its receipt begins no series, and lies before it.
      if (m.received - m.at > 366 * DAY_MS) continue;
      const k = begin(m.at, p);
      out.set(k, [...(out.get(k) ?? []), m]);
    }
    return out;
  };
  const since = (days: number): Plain[] => until.filter((m) => m.at >= w.now - days * DAY_MS);
  switch (f.type) {
    case 'active persons': {
      const own = until.filter((m) => f.events.some((s) => fits(m, s)));
      return Object.fromEntries([...byPeriod(own, f.period)].map(([k, l]) => [k, [distinct(l), l.length]]));
    }
    case 'average per person': {
      const own = until.filter((m) => fits(m, f.event) && m.person >= 0);
      return Object.fromEntries([...byPeriod(own, f.period)].map(([k, l]) => [k, l.length / distinct(l)]));
    }
    case 'total of a property': {
      const own = until.filter((m) => fits(m, f.event) && typeof valueAt(m.properties, f.property) === 'number');
      return Object.fromEntries(
        [...byPeriod(own, f.period)].map(([k, l]) => {
          const v = l.map((m) => valueAt(m.properties, f.property) as number).sort((a, b) => a - b);
          return [k, [v.length, v.reduce((a, b) => a + b, 0), quantile(v, 0.5), quantile(v, 0.95)]];
        }),
      );
    }
    case 'conversion': {
      const list = since(f.overDays);
      const reached = new Map<number, number>();
      for (const p of new Set(list.map((m) => m.person).filter((x) => x >= 0))) {
        const own = list.filter((m) => m.person === p && f.steps.some((s) => fits(m, s)));
        const go = (chain: readonly Plain[]): number => {
          let best = chain.length;
          if (best === f.steps.length) return best;
          for (const m of own) {
            if (!fits(m, f.steps[chain.length]!) || chain.includes(m)) continue;
            if (!chain.every((c) => isAfter(c, m, clockToleranceSeconds * 1000)) || (chain[0] && m.at - chain[0].at > f.windowMs)) continue;
            best = Math.max(best, go([...chain, m]));
            if (best === f.steps.length) break;
          }
          return best;
        };
        reached.set(p, go([]));
      }
      return f.steps.map((_, i) => [...reached.values()].filter((n) => n > i).length);
    }
    case 'retention': {
      const dayNo = (at: number): number =>
        Math.round(
          Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(timeZone).toPlainDate().toZonedDateTime('UTC')
            .epochMilliseconds / DAY_MS,
        );
      const today = dayNo(w.now);
      const firsts = new Map<number, number>();
      for (const m of until) if (fits(m, f.start) && m.person >= 0) firsts.set(m.person, Math.min(firsts.get(m.person) ?? Infinity, m.at));
      let [size, returned, young] = [0, 0, 0];
      for (const [p, at] of firsts) {
        const d = dayNo(at);
        if (d < dayNo(w.now - f.overDays * DAY_MS)) continue;
        if (d + f.day >= today) {
          young++;
          continue;
        }
        size++;
        const back = until.some(
          (m) => m.person === p && fits(m, f.returning) && (f.mode === 'on day' ? dayNo(m.at) === d + f.day : dayNo(m.at) >= d + f.day),
        );
        if (back) returned++;
      }
      return [size, returned, young];
    }
    case 'top values': {
      const counts = new Map<unknown, number>();
      for (const m of since(f.overDays)) {
        const v = valueAt(m.properties, f.property);
        if (fits(m, f.event) && v !== undefined && typeof v !== 'object') counts.set(v, (counts.get(v) ?? 0) + 1);
      }
      return Object.fromEntries([...counts].map(([v, n]) => [String(v), n]));
    }
    case 'share who also did': {
      const who = (s: Step): Set<number> =>
        new Set(
          since(f.overDays)
            .filter((m) => fits(m, s) && m.person >= 0)
            .map((m) => m.person),
        );
      const [a, b] = [who(f.first), who(f.also)];
      return [a.size, [...a].filter((p) => b.has(p)).length];
    }
    default: {
      const own = since(f.overDays).filter((m) => fits(m, f.event));
      const hits = own.filter((m) => holds(valueAt(m.properties, f.condition.property), f.condition));
      return f.of === 'messages' ? [own.length, hits.length] : [distinct(own), distinct(hits)];
    }
  }
};
