import { entries, propertiesOf } from '../../plan/plan';
import { following } from '../../table/following';
import { typeWord } from '../../table/message-table';
import { masked } from '../personal-data';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';
import { refKey, refOfKey, refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface Parity {
  readonly eventName: string;
  readonly property: PropertyRef;
  readonly what: 'type' | 'values';
  /** What only this source sends: a type, or values, most frequent first. */
  readonly own: readonly string[];
  /** What it is among the others. */
  readonly others: readonly string[];
}

/** More values than this are never compared, whatever a workspace sets. */
const MAX_VALUES = 1000;
const NAMED = 3;

/** What one source sent as values of a property of an event. */
interface Own {
  of: number;
  readonly types: Map<string, number>;
  /** By the value's index in the column; nothing more is added once there are too many. */
  readonly values: Map<number, number>;
}

interface Seen {
  readonly sources: Map<number, Own>;
  readonly all: Map<number, number>;
}

/** By the index of the event's name; the key is the property's path. */
const seenOf = following(
  () => new Map<number, Seen>(),
  (state, table, from, to, key) => {
    const { column, values } = table.properties.get(refOfKey(key))!;
    for (let row = from; row < to; row++) {
      const v = column.get(row);
      const name = table.name.get(row);
      if (v < 0 || name < 0) continue;
      let seen = state.get(name);
      if (!seen) state.set(name, (seen = { sources: new Map(), all: new Map() }));
      const source = table.source.get(row);
      let own = seen.sources.get(source);
      if (!own) seen.sources.set(source, (own = { of: 0, types: new Map(), values: new Map() }));
      own.of++;
      const type = typeWord(values.values[v]!);
      own.types.set(type, (own.types.get(type) ?? 0) + 1);
      if (seen.all.size > MAX_VALUES) continue;
      own.values.set(v, (own.values.get(v) ?? 0) + 1);
      seen.all.set(v, (seen.all.get(v) ?? 0) + 1);
    }
  },
);

export const parity = defineManyCheck({
  id: 'parity',
  on: 'many',
  title: 'Sources differ',
  why: 'A group in a figure that only one source can have compares sources, not what people do.',
  example: {
    wrong: '`deposit` in a half of the messages from the web, in all from the phone',
    right: 'the same share from both, within chance',
  },
  method:
    "Each property of a planned event that comes from several sources. Values are compared where they are few and the plan has no list, since a list is judged message by message; something is a source's own where the others, at its rate, would have shown it ten times: the chance of none at all is then below e⁻¹⁰ (Poisson). Source: common practice.",
  severity: 'caution',
  parameters: {
    expected: { title: 'Times the others would have sent it at its rate', unit: '', value: 10, min: 3, max: 100000 },
    values: {
      title: 'Distinct values from which a property is taken for free text',
      unit: '',
      value: 60,
      min: 2,
      max: 1000,
      whole: true,
    },
  },
  fixer: (p: Parity) => (p.what === 'type' ? 'source' : 'plan'),
  expected: (p: Parity) => `as the others: ${p.others.join(', ')}`,
  received: (p: Parity) => p.own.join(', '),
  message: (p: Parity) =>
    p.what === 'type'
      ? `sends \`${refText(p.property)}\` as ${p.own.join(', ')}, where the others send ${p.others.join(', ')}`
      : `sends \`${refText(p.property)}\` with values that no other source has: ${p.own.join(', ')}; the others have ${p.others.join(', ')}`,
  cause: () => 'Each source was built by another reading of the plan.',
  fix: (p: Parity) =>
    p.what === 'type'
      ? `Let all sources send \`${refText(p.property)}\` in the type of the plan.`
      : `Agree on one list of values for \`${refText(p.property)}\`.`,
  *find({ plan, people: { table } }, { expected, values: mostValues }) {
    const out: ManyFound<Parity>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      for (const { property } of propertiesOf(plan, event)) {
        const column = table.properties.get(refOfProperty(property));
        if (!column) continue;
        yield;
        const { values } = column.values;
        const seen = seenOf(table, refKey(refOfProperty(property))).get(table.names.find(event.name));
        if (!seen || seen.sources.size < 2) continue;
        const { sources, all } = seen;
        const apart: { source: number; own: Own; isLarger: boolean; ownTypes: string[]; ownValues: number[]; others: Own[] }[] = [];
        for (const [source, own] of sources) {
          const others = [...sources].filter(([s]) => s !== source).map(([, o]) => o);
          const size = others.reduce((n, o) => n + o.of, 0);
          const alone = <K>(mine: ReadonlyMap<K, number>, theirs: (o: (typeof others)[number]) => ReadonlyMap<K, number>): K[] =>
            [...mine]
              .filter(([k, n]) => (n / own.of) * size >= expected && others.every((o) => !theirs(o).has(k)))
              .sort((a, b) => b[1] - a[1])
              .map(([k]) => k);
          const ownTypes = alone(own.types, (o) => o.types);
          const comparable = property.allowed.length === 0 && property.type === 'string' && all.size <= mostValues;
          const ownValues = comparable && ownTypes.length === 0 ? alone(own.values, (o) => o.values) : [];
          if (ownTypes.length > 0 || ownValues.length > 0)
            apart.push({ source, own, isLarger: own.of > size, ownTypes, ownValues, others });
        }
        for (const { source, own, isLarger, ownTypes, ownValues, others } of apart) {
          // Each of two sources that differ sees the other: told once, of the smaller one.
          if (isLarger && apart.length > 1) continue;
          const isOwn = (v: number): boolean => (ownTypes.length > 0 ? ownTypes.includes(typeWord(values[v]!)) : ownValues.includes(v));
          const cause = new Cause(table);
          cause.outOf = own.of;
          for (const row of table.rowsOf(event.name)) {
            const v = column.column.get(row);
            if (v >= 0 && table.source.get(row) === source && isOwn(v)) cause.add(row);
          }
          out.push({
            params: {
              eventName: event.name,
              property: refOfProperty(property),
              what: ownTypes.length > 0 ? 'type' : 'values',
              own: ownTypes.length > 0 ? ownTypes : ownValues.slice(0, NAMED).map((v) => masked(String(values[v]))),
              others:
                ownTypes.length > 0
                  ? [...new Set(others.flatMap((o) => [...o.types.keys()]))]
                  : [...all.keys()]
                      .filter((v) => !ownValues.includes(v))
                      .slice(0, NAMED)
                      .map((v) => masked(String(values[v]))),
            },
            eventName: event.name,
            field: `properties.${refText(refOfProperty(property))}`,
            sourceId: table.sources.values[source]!,
            ...cause.found(),
          });
        }
      }
    }
    yield* out;
  },
});
