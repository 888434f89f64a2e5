/** What was pressed on the pages of Oddment's catalogue, recorded without a plan: eight weeks of it, with a button whose words changed in week six. */
import type { GeneratedMessage, GeneratorOptions } from './generated';
import { seeded, type Rng } from './random';

export const RESERVE = { text: 'Reserve this tool', role: 'button', place: 'reserve' } as const;
export const PHOTOS = { text: 'More photos', role: 'button', place: 'main/figure/button' } as const;
/** Until release 8.2.0 a librarian was asked; since then the tool is asked about. */
export const ASK_BEFORE = { text: 'Ask a librarian', role: 'link', place: 'main/aside/p/a' } as const;
export const ASK_AFTER = { text: 'Ask about this tool', role: 'link', place: 'main/aside/p/a' } as const;
export const SIGN_IN = { text: 'Sign in', role: 'button', place: 'header/form/button' } as const;
const SINCE_RELEASE = '8.2.0';

type Element = Record<'text' | 'role' | 'place', string>;

const on = (m: GeneratedMessage, element: Element, after: number, rng: Rng): GeneratedMessage => {
  const at = Date.parse(m.message.time) + after;
  const { ids, release, page } = m.message;
  return {
    sourceId: m.sourceId,
    receivedAt: Math.round(m.receivedAt + after),
    message: {
      id: rng.hex(24),
      kind: 'interaction',
      time: new Date(Math.round(at)).toISOString(),
      ids,
      properties: { element },
      release,
      ...(page === undefined ? {} : { page }),
    },
  };
};

/** The interactions beside the events of a history. They have random numbers of their own, so that the events are the same with and without them. */
export const pressed = (
  events: readonly GeneratedMessage[],
  { seed, now, faults }: Pick<GeneratorOptions, 'seed' | 'now' | 'faults'>,
): GeneratedMessage[] => {
  const rng = seeded(seed + 7919);
  const out: GeneratedMessage[] = [];
  const known = new Set<string>();
  for (const m of events) {
    // What was sent again is one act.
    if (m.sourceId !== 'web' || known.has(m.message.id)) continue;
    known.add(m.message.id);
    const { name, release } = m.message;
    const add = (element: Element, after: number): void => {
      const i = on(m, element, after, rng);
      if (i.receivedAt < now) out.push(i);
    };
    if (name === 'Tool Viewed' || name === 'Tool viewed') {
      // Some forget their card, and give up.
      if (rng.chance(0.03)) add(SIGN_IN, 9000 + rng.exponential(4000));
      if (rng.chance(0.35)) add(PHOTOS, 2000 + rng.exponential(6000));
      if (rng.chance(0.2))
        add(faults.has('button-reworded') && release >= SINCE_RELEASE ? ASK_AFTER : ASK_BEFORE, 5000 + rng.exponential(15_000));
    }
    if (name === 'Reservation Requested') add(RESERVE, -200 - rng.next() * 600);
    if (name === 'Signed In') add(SIGN_IN, -400 - rng.next() * 2500);
  }
  return out;
};
