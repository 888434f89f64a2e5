import { entries, propertiesOf } from '../../plan/plan';
import { CausesBySource, defineManyCheck, type ManyFound } from '../check-many';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface TooManyValues {
  readonly eventName: string;
  readonly property: PropertyRef;
  readonly planned: number;
  readonly found: number;
}

export const tooManyValues = defineManyCheck({
  id: 'too-many-values',
  on: 'many',
  title: 'More distinct values than planned',
  why: 'A table grouped by it becomes a list of everything.',
  example: { wrong: '4,000 values of a property for which 30 were planned', right: '31 values' },
  method:
    'Distinct values of a property for which the plan says how many are expected, for each source; those beyond the multiple of the expectation are the messages that show it.',
  severity: 'caution',
  parameters: {
    times: { title: 'Times the planned number of distinct values to report', unit: '', value: 1.5, min: 1, max: 1000 },
  },
  fixer: () => 'source',
  expected: (p: TooManyValues) => `about ${p.planned.toLocaleString('en-GB')} distinct values`,
  received: (p: TooManyValues) => p.found.toLocaleString('en-GB'),
  message: (p: TooManyValues) =>
    `came with ${p.found.toLocaleString('en-GB')} distinct values of \`${refText(p.property)}\`, where about ${p.planned.toLocaleString('en-GB')} were planned`,
  cause: () => 'A free text, a number or an address is sent where a list was meant.',
  fix: (p: TooManyValues) => `Send a value of a list in \`${refText(p.property)}\`, or raise the expectation.`,
  find({ plan, people: { table } }, { times }) {
    const out: ManyFound<TooManyValues>[] = [];
    for (const [, event] of entries(plan, 'event'))
      for (const { property } of propertiesOf(plan, event)) {
        const column = table.properties.get(refOfProperty(property))?.column;
        if (property.distinct === undefined || !column) continue;
        const causes = new CausesBySource(table);
        const values = new Map<number, Set<number>>();
        for (const row of table.rowsOf(event.name)) {
          const v = column.get(row);
          const own = causes.of(row);
          own.outOf++;
          if (v < 0) continue;
          const source = table.source.get(row);
          const seen = values.get(source) ?? new Set<number>();
          values.set(source, seen);
          seen.add(v);
          // What comes beyond the expectation is what shows it.
          if (seen.size > property.distinct * times) own.add(row);
        }
        for (const found of causes.found())
          out.push({
            params: {
              eventName: event.name,
              property: refOfProperty(property),
              planned: property.distinct,
              found: values.get(table.sources.find(found.sourceId))!.size,
            },
            eventName: event.name,
            field: `properties.${refText(refOfProperty(property))}`,
            ...found,
          });
      }
    return out;
  },
});
