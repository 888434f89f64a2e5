import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
}

/** Words for what goes on in a head, and words that leave the moment open. Common practice, no source. */
const UNSEEN = new Set(
  'want wants wanted intend intends intended interested interest decides decided understands understood likes liked engaged engages satisfied notices noticed thinks considers considered hopes etc somehow maybe perhaps usually sometimes appropriate relevant possibly'.split(
    ' ',
  ),
);

export const triggerNotObservable = defineRule({
  id: 'trigger-not-observable',
  title: 'Trigger that cannot be observed',
  why: 'A program can see what was shown, typed or stored, not what somebody meant; each source will guess otherwise.',
  example: { wrong: '“When the visitor decides to borrow”', right: '“When the reservation is stored”' },
  severity: 'caution',
  message: (p: Params) => `The trigger of \`${p.name}\` speaks of “${p.word}”, which no program can observe.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, e] of liveEvents(plan)) {
      const word = lowerWords(e.trigger).find((w) => UNSEEN.has(w));
      if (word !== undefined) yield { path: ['event', id, 'trigger'], params: { name: e.name, word } };
    }
  },
});
