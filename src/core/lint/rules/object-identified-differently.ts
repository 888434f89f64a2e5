import { lowerWords } from '../../naming/words';
import type { Id, Plan } from '../../plan/plan';
import { carriersOf } from '../../plan/plan-index';
import { liveEvents, liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly object: string;
  readonly event: string;
  readonly by: string;
  readonly other: string;
  readonly otherEvent: string;
}

const IDENTIFYING = new Set(['id', 'name', 'number', 'code', 'key', 'sku', 'title', 'slug']);

export const objectIdentifiedDifferently = defineRule({
  id: 'object-identified-differently',
  title: 'One object, identified in two ways',
  why: 'Where one event has the name and the other the number, the two cannot be joined.',
  example: { wrong: '`Tool Viewed` with `tool_id`, `Tool Reserved` with `tool_name` alone', right: 'both with `tool_id`' },
  severity: 'caution',
  message: (p: Params) =>
    `\`${p.event}\` says which ${p.object} by \`${p.by}\`, \`${p.otherEvent}\` by \`${p.other}\`: the events cannot be compared.`,
  fix: (p: Params) => `Add \`${p.other}\` to \`${p.event}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const byObject = new Map<string, { id: Id; name: string; carriers: ReadonlySet<Id> }[]>();
    for (const [id, p] of liveProperties(plan)) {
      const last = lowerWords(p.name).at(-1);
      if (p.describes === '' || last === undefined || !IDENTIFYING.has(last)) continue;
      byObject.set(p.describes, [...(byObject.get(p.describes) ?? []), { id, name: p.name, carriers: new Set(carriersOf(plan, id)) }]);
    }
    for (const [object, ways] of byObject) {
      if (ways.length < 2) continue;
      for (const [eid, e] of liveEvents(plan)) {
        const own = ways.filter((w) => w.carriers.has(eid));
        if (own.length === 0) continue;
        // The way that most events have is the one to join by.
        const main = [...ways].sort((a, b) => b.carriers.size - a.carriers.size)[0]!;
        if (own.some((w) => w.id === main.id)) continue;
        const otherEvent = [...main.carriers].find((x) => !own.some((w) => w.carriers.has(x)));
        if (otherEvent === undefined) continue;
        yield {
          path: ['event', eid, 'properties'],
          params: { object, event: e.name, by: own[0]!.name, other: main.name, otherEvent: plan.event[otherEvent]!.name },
          fix: [
            {
              op: 'set',
              kind: 'event',
              id: eid,
              field: 'properties',
              before: e.properties,
              after: [...e.properties, { propertyId: main.id, required: true }],
            },
          ],
        };
      }
    }
  },
});
