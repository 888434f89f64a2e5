import { entries, propertiesOf, settingsOf, type Plan, type Property } from '../../plan/plan';
import { isNumeric } from '../../plan/property-type';
import { sampleOf } from '../../stats/mixture';
import type { MessageTable } from '../../table/message-table';
import { valuesOf } from '../check';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';
import { readingsOf, unitWords } from '../unit-readings';
import { sentOf, suspectsIn, type Ground, type Group, type Suspect } from '../unit-suspects';
import { refKey, refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface UnitSuspicion {
  readonly eventName: string;
  readonly property: PropertyRef;
  /** In words; empty where the plan has none. */
  readonly planned: string;
  readonly sent: string;
  readonly factor: number;
  /** Share of its values that are, 0..1. */
  readonly share: number;
  /** What tells which is right. */
  readonly ground: Ground;
}

export const unitSuspicion = defineManyCheck({
  id: 'unit-suspicion',
  on: 'many',
  title: 'Unit looks wrong',
  why: 'Sums and averages over sources mix two units, and no single value looks wrong.',
  example: { wrong: 'weights of one release a thousand times those of the one before', right: 'all releases in g' },
  method:
    'For each numeric property of an event the values of each release of each source: those that lie alike are put together, and of what lies elsewhere it is asked whether it is a multiple of the others, in whole or in part, by a factor between two units of its dimension. Which is right the plan says first, then what the source sent before, then the majority. Source: stats/mixture.',
  severity: 'stop',
  parameters: {
    min: {
      title: 'Values of a release that it takes to judge',
      unit: 'values',
      value: 20,
      min: 5,
      max: 1000000,
      whole: true,
    },
  },
  fixer: (p: UnitSuspicion) => (p.ground === 'none' ? 'plan' : 'source'),
  expected: (p: UnitSuspicion) => (p.planned === '' ? 'values as the others send them' : `values in ${p.planned}`),
  received: (p: UnitSuspicion) => (p.ground === 'none' ? 'two units side by side' : `${partText(p)}values in ${p.sent}`),
  message: (p: UnitSuspicion) =>
    p.ground === 'none'
      ? `comes with \`${refText(p.property)}\` in two units: the values of one source are about ${factorText(p.factor)} those of another, as if in ${p.sent}${p.planned === '' ? '' : ` and in ${p.planned}`}; nothing tells which is right`
      : `comes with \`${refText(p.property)}\` in ${p.sent}${p.planned === '' ? '' : `, where the plan says ${p.planned}`}${p.share > 0.97 ? '' : `, in about ${Math.max(1, Math.round(p.share * 100))} % of its messages`}`,
  cause: (p: UnitSuspicion) =>
    ({
      plan: `Its values fit what the plan says of \`${refText(p.property)}\` only when they are read in ${p.sent}.`,
      past: 'Earlier releases of the same source sent other values; this one began to measure in another unit.',
      majority: 'More sources and releases agree on the other values.',
      none: 'Neither the plan nor the past of a source nor a majority says which of them is right.',
    })[p.ground],
  fix: (p: UnitSuspicion) =>
    p.ground === 'none'
      ? `Write unit, range and samples of \`${refText(p.property)}\` in the plan, and ask the owners of both sources.`
      : `Convert \`${refText(p.property)}\`${p.planned === '' ? '' : ` to ${p.planned}`} before sending.`,
  *find({ plan, people: { table } }, { min }) {
    const out: ManyFound<UnitSuspicion>[] = [];
    for (const s of suspicions(plan, table, min))
      if (s) out.push(foundOf(table, s.eventName, s.property, s.suspect));
      else yield;
    yield* out;
  },
});

interface Suspicion {
  readonly eventName: string;
  readonly property: Property;
  readonly suspect: Suspect;
}

/** Every source and release that seems to send a property in another unit; of those with at least so many values. `names`: of these events alone. */
function* suspicions(plan: Plan, table: MessageTable, min: number, names?: ReadonlySet<string>): Iterable<Suspicion | undefined> {
  const { currency } = settingsOf(plan);
  for (const [, event] of entries(plan, 'event').filter(([, e]) => names?.has(e.name) ?? true))
    for (const { property } of propertiesOf(plan, event)) {
      if (!isNumeric(property.type) || !table.properties.has(refOfProperty(property))) continue;
      const readings = readingsOf(property.unit, currency);
      if (readings.length === 0) continue;
      yield;
      const all = [
        ...(sentOf(table, refKey(refOfProperty(property)))
          .get(table.names.find(event.name))
          ?.values() ?? []),
      ].flatMap((m) => [...m.values()]);
      const groups = all.map((s): Group => ({ ...s, sample: sampleOf(s.numbers) })).filter((g) => g.sample.size >= min);
      for (const suspect of suspectsIn(groups, property, readings)) yield { eventName: event.name, property, suspect };
    }
}

/** Rows whose value seems to be in another unit, and by how much too large it is; none where it cannot be said which is the right one. */
export const wrongUnits = (
  plan: Plan,
  table: MessageTable,
  names?: ReadonlySet<string>,
): { readonly ref: PropertyRef; readonly eventName: string; readonly rows: readonly number[]; readonly factor: number }[] => {
  const set = settingsOf(plan).rules[unitSuspicion.id];
  if (set?.off) return [];
  return [...suspicions(plan, table, valuesOf(unitSuspicion.parameters, set).min, names)].flatMap((found) => {
    if (!found || found.suspect.ground === 'none') return [];
    const { eventName, property, suspect: s } = found;
    const ref = refOfProperty(property);
    const { column, values } = table.properties.get(ref)!;
    const rows = [...table.rowsOf(eventName)].filter((row) => {
      if (table.source.get(row) !== s.group.source || table.release.get(row) !== s.group.release) return false;
      const value = values.values[column.get(row)];
      return typeof value === 'number' && s.isOdd(value);
    });
    return [{ ref, eventName, rows, factor: s.reading.factor }];
  });
};

const foundOf = (table: MessageTable, eventName: string, property: Property, s: Suspect): ManyFound<UnitSuspicion> => {
  const { column, values } = table.properties.get(refOfProperty(property))!;
  const cause = new Cause(table);
  cause.outOf = s.group.sample.size;
  for (const row of table.rowsOf(eventName)) {
    if (table.source.get(row) !== s.group.source || table.release.get(row) !== s.group.release) continue;
    const value = values.values[column.get(row)];
    if (typeof value === 'number' && s.isOdd(value)) cause.add(row);
  }
  return {
    params: {
      eventName,
      property: refOfProperty(property),
      planned: unitWords(property.unit),
      sent: s.reading.sent,
      factor: s.reading.factor,
      share: s.share,
      ground: s.ground,
    },
    eventName,
    field: `properties.${refText(refOfProperty(property))}`,
    sourceId: table.sources.values[s.group.source]!,
    ...(s.ground === 'none' ? { severity: 'caution' as const } : {}),
    ...cause.found(),
  };
};

const partText = (p: UnitSuspicion): string => (p.share > 0.97 ? '' : `in part `);

const factorText = (f: number): string =>
  f >= 1
    ? `${f.toLocaleString('en-GB', { maximumFractionDigits: 2 })} times`
    : `1/${(1 / f).toLocaleString('en-GB', { maximumFractionDigits: 2 })} of`;
