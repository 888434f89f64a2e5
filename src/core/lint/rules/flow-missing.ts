import type { Plan } from '../../plan/plan';
import { commonest, liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly proposal: string | undefined;
}

export const flowMissing = defineRule({
  id: 'flow-missing',
  title: 'Flow missing',
  why: 'A reader who follows a journey does not come across it.',
  example: { wrong: '`Deposit Paid` in no flow', right: '`Deposit Paid` in the flow Borrowing' },
  severity: 'note',
  message: (p: Params) => `\`${p.name}\` belongs to no flow.`,
  fix: (p: Params) => `Put it into ${p.proposal ?? ''}, with the other events on its object`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const live = liveEvents(plan);
    const byObject = new Map<string, string | undefined>();
    for (const [id, e] of live) {
      if (e.flow.trim() !== '') continue;
      if (e.object !== '' && !byObject.has(e.object))
        byObject.set(e.object, commonest(live.filter(([, o]) => o.object === e.object).map(([, o]) => o.flow)));
      const proposal = byObject.get(e.object);
      yield {
        path: ['event', id, 'flow'],
        params: { name: e.name, proposal },
        ...(proposal === undefined
          ? {}
          : { fix: [{ op: 'set', kind: 'event', id, field: 'flow', before: e.flow, after: proposal } as const] }),
      };
    }
  },
});
