import type { Plan } from '../../plan/plan';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly because: string;
}

const FEW = 30;
const PROMISE = /\b(one of|either|list of|which of|kind of|type of|choice of)\b/i;

export const valuesUnbounded = defineRule({
  id: 'values-unbounded',
  title: 'List promised, any value allowed',
  why: 'Without the list a misspelt value is a new group, and no check finds it.',
  example: { wrong: '`colour`, said to be “one of our colours”, that allows any text', right: '`colour` with the list red, green, blue' },
  severity: 'note',
  message: (p: Params) => `\`${p.name}\` allows any value, though ${p.because}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan)) {
      if (p.type !== 'string' || p.allowed.length > 0 || p.pattern !== '' || p.format !== '') continue;
      const promise = PROMISE.exec(p.description);
      const because =
        p.distinct !== undefined && p.distinct <= FEW
          ? `only ${p.distinct} different values are expected`
          : promise
            ? `its description says “${promise[0]}”`
            : undefined;
      if (because !== undefined) yield { path: ['property', id, 'allowed'], params: { name: refText(refOfProperty(p)), because } };
    }
  },
});
