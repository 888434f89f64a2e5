import type { Definition } from '../../definitions/definition';
import { orderOf } from '../../definitions/order';
import { conditionText } from '../../definitions/text';
import { vacuousIn } from '../../definitions/vacuous';
import type { Plan } from '../../plan/plan';
import { liveDefinitions } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly problem: string;
}

export const definitionCannotHold = defineRule({
  id: 'definition-cannot-hold',
  title: 'Definition that can take nothing',
  why: 'It counts nothing, whatever arrives, and a figure over it is 0 and looks like an answer.',
  example: { wrong: 'release is “8.1” and release is “8.2”', right: 'release is one of “8.1”, “8.2”' },
  severity: 'stop',
  message: (p: Params) => `\`${p.name}\` takes nothing: ${p.problem}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const named = liveDefinitions(plan).filter(([, d]) => d.name !== '');
    const sourceName = (id: string): string => plan.source[id]?.name ?? id;
    // Of several circles each is told once, where it begins.
    let left: readonly Definition[] = named.map(([, d]) => d);
    const circles = new Map<string, readonly string[]>();
    for (let ordered = orderOf(left); !ordered.ok; ordered = orderOf(left)) {
      const { circle } = ordered;
      circles.set(circle[0]!, circle);
      left = left.filter((d) => !circle.includes(d.name));
    }
    for (const [id, d] of named) {
      const { name, source } = d;
      const circle = circles.get(name);
      if (circle) {
        circles.delete(name);
        yield {
          path: ['definition', id, 'source'],
          params: { name, problem: `it is made of itself, ${circle.map((n) => `\`${n}\``).join(' of ')}` },
        };
      }
      if (source.of === 'events' && !source.names.some((n) => n !== ''))
        yield { path: ['definition', id, 'source'], params: { name, problem: 'it is made of no event' } };
      const vacuous = vacuousIn(d.where);
      if (vacuous?.what === 'never')
        yield {
          path: ['definition', id, 'where'],
          params: { name, problem: `no message fulfils ${vacuous.conditions.map((c) => conditionText(c, sourceName)).join(' and ')}` },
        };
    }
  },
});
