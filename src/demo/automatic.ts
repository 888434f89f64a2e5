/** What the libraries of Oddment's web catalogue and phone app send on their own, without anybody having planned it. */
import type { GeneratedMessage, GeneratorOptions } from './generated';
import { seeded } from './random';

/** The web catalogue's says how long a page was in sight, once it is left; the phone's says that the app went out of sight. */
export const LEFT_PAGE = 'page_left';
export const OUT_OF_SIGHT = 'app_out_of_sight';
const SHARE = 0.1;

/** Sent beside the events of a history, with random numbers of their own, so that the events are the same with and without them. */
export const sentByLibraries = (
  events: readonly GeneratedMessage[],
  { seed, now }: Pick<GeneratorOptions, 'seed' | 'now'>,
): GeneratedMessage[] => {
  const rng = seeded(seed + 104_729);
  const known = new Set<string>();
  const out: GeneratedMessage[] = [];
  for (const m of events) {
    if (m.message.name !== 'Tool Viewed' || known.has(m.message.id)) continue;
    known.add(m.message.id);
    if (!rng.chance(SHARE)) continue;
    const seconds = Math.round(4 + rng.exponential(40));
    const after = seconds * 1000;
    if (m.receivedAt + after >= now) continue;
    const { ids, release, page, time } = m.message;
    out.push({
      sourceId: m.sourceId,
      receivedAt: Math.round(m.receivedAt + after),
      message: {
        id: rng.hex(24),
        name: m.sourceId === 'web' ? LEFT_PAGE : OUT_OF_SIGHT,
        time: new Date(Date.parse(time) + after).toISOString(),
        ids,
        properties: m.sourceId === 'web' ? { seconds_seen: seconds } : {},
        release,
        ...(page === undefined ? {} : { page }),
      },
    });
  }
  return out;
};
