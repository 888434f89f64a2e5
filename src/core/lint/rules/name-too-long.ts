import { settingsOf, type Kind, type Plan } from '../../plan/plan';
import { liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly length: number;
  readonly max: number;
}

export const nameTooLong = defineRule({
  id: 'name-too-long',
  title: 'Name too long',
  why: 'Places that take the data cut long names, and two names that begin alike become one.',
  example: { wrong: 'a name of 80 characters, where 64 are agreed', right: 'a name of 40 characters' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` has ${p.length} characters; at most ${p.max} are agreed.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const max = settingsOf(plan).naming.maxLength;
    const all: [Kind, string, string][] = [
      ...liveEvents(plan).map(([id, e]): [Kind, string, string] => ['event', id, e.name]),
      ...liveProperties(plan).map(([id, p]): [Kind, string, string] => ['property', id, p.name]),
      ...liveUserProperties(plan).map(([id, u]): [Kind, string, string] => ['userProperty', id, u.name]),
    ];
    for (const [kind, id, name] of all) {
      if (name.length <= max) continue;
      const letters = Array.from(name);
      const { length } = letters;
      if (length > max) yield { path: [kind, id, 'name'], params: { name: `${letters.slice(0, 60).join('')}…`, length, max } };
    }
  },
});
