import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
}

const ATTEMPTS = new Set([
  'press',
  'presses',
  'pressed',
  'tap',
  'taps',
  'tapped',
  'click',
  'clicks',
  'clicked',
  'submit',
  'submits',
  'submitted',
]);

export const triggerOnAttempt = defineRule({
  id: 'trigger-on-attempt',
  title: 'Completed outcome, triggered by an attempt',
  why: 'A press that fails is counted like one that succeeds, so every rate built on the event is too high.',
  severity: 'stop',
  message: (p: Params) => `\`${p.name}\` claims a completed outcome, but its trigger speaks of “${p.word}”.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'completed') continue;
      const word = lowerWords(e.trigger).find((w) => ATTEMPTS.has(w));
      if (word !== undefined) yield { path: ['event', id, 'trigger'], params: { name: e.name, word } };
    }
  },
});
