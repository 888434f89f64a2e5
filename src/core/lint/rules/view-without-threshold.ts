import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

const NUMBERS = new Set(
  'one two three four five six seven eight nine ten fifteen twenty thirty sixty half quarter whole entire end fully'.split(' '),
);

export const viewWithoutThreshold = defineRule({
  id: 'view-without-threshold',
  title: 'View without a threshold',
  why: 'One source counts a glance and another a read page; “viewed” needs its least time or share.',
  example: { wrong: 'a view, fired “when the page is shown”', right: 'a view, fired “when the page was in view for five seconds”' },
  severity: 'caution',
  message: (p: { readonly name: string }) => `\`${p.name}\` is a view, but its trigger has no threshold: for how long, or how much of it?`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'viewed' || e.trigger.trim() === '') continue;
      if (/\d/.test(e.trigger) || lowerWords(e.trigger).some((w) => NUMBERS.has(w))) continue;
      yield { path: ['event', id, 'trigger'], params: { name: e.name } };
    }
  },
});
