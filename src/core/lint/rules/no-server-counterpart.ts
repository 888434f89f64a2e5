import { nearest } from '../../naming/likeness';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly nearest: string | undefined;
}

export const noServerCounterpart = defineRule({
  id: 'no-server-counterpart',
  title: 'Client event without a confirmation',
  why: 'Clients lose messages and claim what failed; only a server event beside it shows how many.',
  example: {
    wrong: '`Order Placed` from the web page alone',
    right: '`Order Placed` from the web page, confirmed by `Order Accepted` from the server',
  },
  severity: 'note',
  message: (p: Params) =>
    `\`${p.name}\` matters and only clients send it; no server event confirms it.${p.nearest ? ` \`${p.nearest}\` may be the one.` : ''}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const live = liveEvents(plan);
    const sent = (ids: readonly { sourceId: string }[], server: boolean) =>
      ids.some((s) => plan.source[s.sourceId] && (plan.source[s.sourceId]!.kind === 'server') === server);
    const onServer = live.filter(([, e]) => sent(e.sources, true));
    for (const [id, e] of live) {
      if (!e.conversion || e.counterpart || e.sources.length === 0 || sent(e.sources, true)) continue;
      const same = onServer.filter(([, o]) => o.object !== '' && o.object === e.object).map(([, o]) => o.name);
      yield { path: ['event', id, 'counterpart'], params: { name: e.name, nearest: nearest(e.name, same) ?? same[0] } };
    }
  },
});
