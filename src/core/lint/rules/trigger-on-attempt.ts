import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
}

/** Presses in any form: what a hand does, before anything has come of it. */
const ATTEMPT = /^(?:press(?:es|ed|ing)?|keypress|tap(?:s|ped|ping)?|(?:double)?click(?:s|ed|ing)?|submit(?:s|ted|ting)?|submission)$/;
/** Words by which a trigger says that the press is not the moment. */
const DENIALS = new Set(['not', 'no', 'never', 'without', 'nor', 'rather', 'instead', 'nothing', 'nobody', 'cannot']);

/** What comes of a press: a trigger that goes on to it means that moment, and the press alone is how it began. */
const OUTCOME =
  /^(?:(?:sav|stor|creat|complet|receiv|approv|plac|acknowledg)(?:ed|es)|(?:accept|confirm|record|book|succeed|succeeded|answer|return|register|persist|grant)(?:ed|s)|written|writes|paid|pays)$/;
const THEN = new Set(['and', 'then', 'which']);

/** The word of an attempt in a trigger, clause by clause: one that is denied is none, nor is one after which the outcome is named. */
const attemptIn = (trigger: string): string | undefined => {
  for (const sentence of trigger.split(/[.;:()]/)) {
    const clauses = sentence.split(',').map(lowerWords);
    for (const [i, words] of clauses.entries()) {
      const at = words.findIndex((w) => ATTEMPT.test(w));
      if (at < 0 || words.slice(0, at).some((w) => DENIALS.has(w))) continue;
      const after = [...words.slice(at + 1), ...clauses.slice(i + 1).flat()];
      const then = after.findIndex((w) => THEN.has(w));
      const outcome = then < 0 ? -1 : after.findIndex((w, j) => j > then && OUTCOME.test(w));
      if (outcome >= 0 && !after.slice(then, outcome).some((w) => DENIALS.has(w))) continue;
      return words[at];
    }
  }
  return undefined;
};

export const triggerOnAttempt = defineRule({
  id: 'trigger-on-attempt',
  title: 'Completed outcome, triggered by an attempt',
  why: 'A press that fails is counted like one that succeeds, so every rate built on the event is too high.',
  example: {
    wrong: 'a completed `Order Placed`, fired “on click of the order button”',
    right: 'a completed `Order Placed`, fired “when the order is stored”',
  },
  severity: 'stop',
  message: (p: Params) => `\`${p.name}\` claims a completed outcome, but its trigger speaks of “${p.word}”.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'completed') continue;
      const word = attemptIn(e.trigger);
      if (word !== undefined) yield { path: ['event', id, 'trigger'], params: { name: e.name, word } };
    }
  },
});
