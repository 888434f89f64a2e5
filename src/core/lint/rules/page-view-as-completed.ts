import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly place: string;
  readonly seen: string;
}

const PLACES = new Set(['page', 'screen', 'view', 'dialog', 'tab']);
const SEEN = new Set(
  'open opens opened load loads loaded show shows shown visit visits visited view views viewed display displays displayed reach reaches reached appear appears appeared'.split(
    ' ',
  ),
);
/** Words by which a trigger says that the opening is not the moment. */
const DENIALS = new Set(['not', 'no', 'never', 'without']);

export const pageViewAsCompleted = defineRule({
  id: 'page-view-as-completed',
  title: 'Page view taken for a completed action',
  why: 'Opening the account page is not a sign-in: the page opens on every visit, and the event counts them all.',
  example: {
    wrong: 'a completed `Order Placed`, fired when “the thank-you page is shown”',
    right: 'a completed `Order Placed`, fired when “the order is stored”',
  },
  severity: 'caution',
  message: (p: Params) =>
    `\`${p.name}\` claims a completed action, but its trigger speaks of a ${p.place} and “${p.seen}”: that is a view.`,
  fix: () => 'Mark it as viewed',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'completed') continue;
      for (const clause of e.trigger.split(/[.;,]/)) {
        const words = lowerWords(clause);
        const place = words.find((w) => PLACES.has(w));
        const seen = words.find((w) => SEEN.has(w));
        if (place === undefined || seen === undefined || words.some((w) => DENIALS.has(w))) continue;
        yield {
          path: ['event', id, 'trigger'],
          params: { name: e.name, place, seen },
          fix: [{ op: 'set', kind: 'event', id, field: 'triggerKind', before: e.triggerKind, after: 'viewed' }],
        };
        break;
      }
    }
  },
});
