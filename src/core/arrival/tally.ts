/** Findings of single messages, added up by event, source and release. */
import type { Severity } from '../findings/severity';
import type { FindingCount } from './finding-group';
import type { MessageFinding } from './message-finding';

/** A stored message with what was found on it. */
export interface JudgedMessage {
  /** Sequence number in the order of arrival. */
  readonly seq: number;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly findings: readonly Pick<MessageFinding, 'code' | 'severity' | 'path' | 'params'>[];
}

type Open = { -readonly [K in keyof FindingCount]: FindingCount[K] } & { samples: number[] };

const SAMPLES = 5;

/** Text that UTF-8 can hold: half of a surrogate pair becomes the sign for what is no character. */
export const wellFormed = (text: string): string => text.replace(/[\ud800-\udfff]/gu, '\ufffd');

/** Text that every store can hold: NUL, too, is shown by its sign. */
const storable = (text: string): string => wellFormed(text.replaceAll('\0', '\u2400'));

/** JSON text of values whose texts every store can hold. Names within must be such already. */
export const storableJson = (v: unknown): string => {
  const text = JSON.stringify(v);
  if (!/\\u(?:0000|d[89a-f])/.test(text)) return text;
  return JSON.stringify(v, (_, inner: unknown) => (typeof inner === 'string' ? storable(inner) : inner));
};

/** Adds up over any stretch of messages; the words of the newest are kept.
 *  Shape: one count for each code, event, field, source and release, in the order of first sight.
 */
export const tallyFindings = (judged: Iterable<JudgedMessage>): FindingCount[] => {
  const counts = new Map<string, Open>();
  for (const m of judged)
    for (const f of m.findings) {
      const [field, eventName, release] = [f.path.join('.'), m.name, m.release].map(storable) as [string, string, string];
      const key = JSON.stringify([f.code, eventName, field, m.sourceId, release]);
      const c = counts.get(key);
      if (c) {
        c.count++;
        c.firstAt = Math.min(c.firstAt, m.occurredAt);
        c.lastAt = Math.max(c.lastAt, m.occurredAt);
        c.samples.unshift(m.seq);
        if (c.samples.length > SAMPLES) c.samples.pop();
        c.params = f.params;
      } else
        counts.set(key, {
          code: f.code,
          eventName,
          field,
          sourceId: m.sourceId,
          release,
          severity: f.severity as Severity,
          params: f.params,
          count: 1,
          firstAt: m.occurredAt,
          lastAt: m.occurredAt,
          samples: [m.seq],
        });
    }
  return [...counts.values()];
};
