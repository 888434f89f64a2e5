import { entries } from '../../plan/plan';
import { isUnder } from '../../plan/page-path';
import { masked } from '../personal-data';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';

export interface OutOfScope {
  readonly eventName: string;
  readonly scope: string;
  readonly page: string;
  readonly pages: number;
}

export const outOfScope = defineManyCheck({
  id: 'out-of-scope',
  on: 'many',
  title: 'Out-of-scope page',
  why: 'What fires on pages where it has no business counts something else.',
  severity: 'caution',
  shows: 'page',
  mender: () => 'source',
  expected: (p: OutOfScope) => `pages under \`${p.scope}\``,
  received: (p: OutOfScope) => `\`${p.page}\``,
  message: (p: OutOfScope) =>
    `fires outside \`${p.scope}\`: on \`${p.page}\`${p.pages > 1 ? ` and ${p.pages - 1} other page${p.pages > 2 ? 's' : ''}` : ''}`,
  cause: () => 'The handler listens on every page, or the page has moved.',
  mend: (p: OutOfScope) => `Bind it only under \`${p.scope}\`, or change the scope in the plan.`,
  find({ plan, people: { table } }) {
    const out: ManyFound<OutOfScope>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      if (event.scope === '') continue;
      const outside = table.pages.values.map((page) => !isUnder(page, event.scope));
      const bySource = new Map<number, { cause: Cause; pages: Map<number, number> }>();
      for (const row of table.rowsOf(event.name)) {
        const source = table.source.get(row);
        let own = bySource.get(source);
        if (!own) bySource.set(source, (own = { cause: new Cause(table), pages: new Map() }));
        own.cause.of++;
        const page = table.page.get(row);
        if (page < 0 || !outside[page]) continue;
        own.cause.add(row);
        own.pages.set(page, (own.pages.get(page) ?? 0) + 1);
      }
      for (const [source, { cause, pages }] of bySource) {
        const [most] = [...pages].sort((a, b) => b[1] - a[1]);
        if (!most) continue;
        out.push({
          params: { eventName: event.name, scope: event.scope, page: masked(table.pages.values[most[0]]!), pages: pages.size },
          eventName: event.name,
          field: '',
          sourceId: table.sources.values[source]!,
          ...cause.found(),
        });
      }
    }
    return out;
  },
});
