import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly proposal: readonly string[];
}

export const sourceMissing = defineRule({
  id: 'source-missing',
  title: 'Source missing',
  why: 'Nobody knows that they have to build it.',
  example: { wrong: 'an event that no source sends', right: 'an event that the web catalogue sends' },
  severity: 'caution',
  message: (p: Params) => `Nothing sends \`${p.name}\`: it has no source.`,
  fix: (p: Params) => `Take the sources of its flow: ${p.proposal.join(', ')}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const byFlow = new Map<string, Set<string>>();
    for (const [, e] of liveEvents(plan))
      if (e.flow !== '') for (const s of e.sources) byFlow.set(e.flow, (byFlow.get(e.flow) ?? new Set()).add(s.sourceId));
    for (const [id, e] of liveEvents(plan)) {
      if (e.sources.length > 0) continue;
      const ids = [...(byFlow.get(e.flow) ?? [])].filter((s) => plan.source[s]);
      yield {
        path: ['event', id, 'sources'],
        params: { name: e.name, proposal: ids.map((s) => plan.source[s]!.name) },
        ...(ids.length > 0
          ? {
              fix: [
                {
                  op: 'set',
                  kind: 'event',
                  id,
                  field: 'sources',
                  before: e.sources,
                  after: ids.map((sourceId) => ({ sourceId, required: true, build: 'proposed' })),
                } as const,
              ],
            }
          : {}),
      };
    }
  },
});
