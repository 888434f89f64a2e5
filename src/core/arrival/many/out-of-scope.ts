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
  example: { wrong: '`Guide Read` from `/checkout`, where the plan says `/guides/*`', right: '`Guide Read` from `/guides/drills`' },
  method: 'Messages of an event with a scope, whose page does not lie under it. Messages without a page are not judged.',
  severity: 'caution',
  shows: 'page',
  fixer: () => 'source',
  expected: (p: OutOfScope) => `pages under \`${p.scope}\``,
  received: (p: OutOfScope) => `\`${p.page}\``,
  message: (p: OutOfScope) =>
    `fires outside \`${p.scope}\`: on \`${p.page}\`${p.pages > 1 ? ` and ${p.pages - 1} other page${p.pages > 2 ? 's' : ''}` : ''}`,
  cause: () => 'The handler listens on every page, or the page has moved.',
  fix: (p: OutOfScope) => `Bind it only under \`${p.scope}\`, or change the scope in the plan.`,
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
        own.cause.outOf++;
        const page = table.page.get(row);
        if (page < 0 || !outside[page]) continue;
        own.cause.add(row);
        own.pages.set(page, (own.pages.get(page) ?? 0) + 1);
      }
      for (const [source, { cause, pages }] of bySource) {
        const [max] = [...pages].sort((a, b) => b[1] - a[1]);
        if (!max) continue;
        out.push({
          params: { eventName: event.name, scope: event.scope, page: masked(table.pages.values[max[0]]!), pages: pages.size },
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
