import { lowerWords } from '../../naming/words';
import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly because: 'it is a view' | 'every visit fires it';
}

/** Names of events that every visit fires. Common practice, no source. */
const EVERY_VISIT = [
  ['page', 'viewed'], ['screen', 'viewed'], ['page', 'opened'], ['app', 'opened'], ['app', 'started'], ['session', 'started'],
  ['site', 'visited'], ['page', 'loaded'], ['visit', 'started'],
]; // prettier-ignore

export const conversionTooGeneral = defineRule({
  id: 'conversion-too-general',
  title: 'Conversion mark on a general event',
  why: 'A conversion that every visit fires says nothing, and uses up one of few marks.',
  example: { wrong: '`Page Viewed`, marked as a conversion', right: '`Membership Activated`, marked as a conversion' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is marked as a conversion, but ${p.because}.`,
  fix: () => 'Take the mark away',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, e] of liveEvents(plan)) {
      if (!e.conversion) continue;
      const words = new Set(lowerWords(e.name));
      const general = EVERY_VISIT.some((names) => words.size === names.length && names.every((w) => words.has(w)));
      if (!general && e.triggerKind !== 'viewed') continue;
      yield {
        path: ['event', id, 'conversion'],
        params: { name: e.name, because: general ? 'every visit fires it' : 'it is a view' },
        fix: [{ op: 'set', kind: 'event', id, field: 'conversion', before: true, after: false }],
      };
    }
  },
});
