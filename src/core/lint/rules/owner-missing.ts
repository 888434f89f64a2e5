import type { Plan } from '../../plan/plan';
import { isMadeOf } from '../../definitions/named';
import { commonest, liveDefinitions, liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly proposal: string | undefined;
}

export const ownerMissing = defineRule({
  id: 'owner-missing',
  title: 'Owner missing',
  why: 'When it breaks, nobody is asked.',
  example: { wrong: 'an event that nobody owns', right: 'an event owned by the lending team' },
  severity: 'note',
  message: (p: Params) => `\`${p.name}\` has no owner.`,
  fix: (p: Params) => `Give it to ${p.proposal ?? ''}, who owns what it belongs to`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const live = liveEvents(plan);
    const byFlow = new Map<string, string | undefined>();
    for (const [id, e] of live) {
      if (e.owner.trim() !== '') continue;
      if (e.flow !== '' && !byFlow.has(e.flow))
        byFlow.set(e.flow, commonest(live.filter(([, o]) => o.flow === e.flow).map(([, o]) => o.owner)));
      const proposal = byFlow.get(e.flow);
      yield {
        path: ['event', id, 'owner'],
        params: { name: e.name, proposal },
        ...(proposal === undefined
          ? {}
          : { fix: [{ op: 'set', kind: 'event', id, field: 'owner', before: e.owner, after: proposal } as const] }),
      };
    }
    for (const [id, d] of liveDefinitions(plan)) {
      if (d.owner.trim() !== '') continue;
      const proposal =
        d.source.of === 'events' ? commonest(live.filter(([, e]) => isMadeOf(d, e.name)).map(([, e]) => e.owner)) : undefined;
      yield {
        path: ['definition', id, 'owner'],
        params: { name: d.name, proposal },
        ...(proposal === undefined
          ? {}
          : { fix: [{ op: 'set', kind: 'definition', id, field: 'owner', before: d.owner, after: proposal } as const] }),
      };
    }
  },
});
