import { likeness, nearest } from '../../naming/likeness';
import { automaticEvents } from '../../plan/automatic';
import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';

export interface UnknownEvent {
  readonly name: string;
  readonly nearest: string | undefined;
  readonly likeness: 'same but for case' | 'swapped words' | 'small edit distance' | undefined;
}

const describe = (name: string, planned: readonly string[]): UnknownEvent => {
  for (const p of planned) if (likeness(name, p) === 'same but for case') return { name, nearest: p, likeness: 'same but for case' };
  const near = nearest(name, planned);
  return { name, nearest: near, likeness: near === undefined ? undefined : likeness(name, near) };
};

const REMEMBERED = 10_000;

export const unknownEvent = defineMessageCheck({
  id: 'unknown-event',
  on: 'name',
  title: 'Unknown event',
  why: 'What no plan describes, nobody can interpret; and a twin of a planned name takes its messages away from it. What the library of a source sends on its own is no fault once it is listed there.',
  example: { wrong: '`"name": "Tool viewed"`, where the plan has `Tool Viewed`', right: '`"name": "Tool Viewed"`' },
  severity: 'stop',
  shows: 'name',
  fixer: (p: UnknownEvent) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnknownEvent) => (p.nearest === undefined ? 'an event of the plan' : `\`${p.nearest}\``),
  received: (p: UnknownEvent) => `\`${p.name}\``,
  message: (p: UnknownEvent) =>
    p.likeness === 'same but for case'
      ? `\`${p.name}\` is not in the plan; it is \`${p.nearest}\` but for case or spacing`
      : p.nearest === undefined
        ? `\`${p.name}\` is not in the plan`
        : `\`${p.name}\` is not in the plan; the nearest planned name is \`${p.nearest}\``,
  cause: (p: UnknownEvent) =>
    p.likeness === 'same but for case'
      ? 'The release spells the name differently, and names are case-sensitive.'
      : 'The event was built without a plan entry, or its name was mistyped.',
  fix: (p: UnknownEvent) =>
    p.likeness === 'same but for case'
      ? `Send it as \`${p.nearest}\`.`
      : p.nearest === undefined
        ? 'Add it to the plan, or stop sending it.'
        : `Send it as \`${p.nearest}\`, or add \`${p.name}\` to the plan.`,
  compile(plan) {
    const events = entries(plan, 'event').map(([, e]) => e);
    const planned = events.map((e) => e.name);
    // What a library sends on its own is listed with its source, and needs no plan.
    const known = new Set([
      ...planned.filter((name) => name !== ''),
      ...events.flatMap((e) => e.formerNames),
      ...automaticEvents(plan).keys(),
    ]);
    const described = new Map<string, UnknownEvent>();
    return (name) => {
      if (known.has(name)) return undefined;
      let params = described.get(name);
      if (!params) {
        params = describe(name, planned);
        if (described.size < REMEMBERED) described.set(name, params);
      }
      return params;
    };
  },
});
