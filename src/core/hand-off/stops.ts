/** What the rules of the plan say of an event that must not be built as it is. */
import type { ShownFinding } from '../lint/lint';
import type { Id } from '../plan/plan';

/** By event, what stops it, a sentence each. */
export const stopsByEvent = (findings: readonly ShownFinding[]): ReadonlyMap<Id, readonly string[]> => {
  const out = new Map<Id, string[]>();
  for (const f of findings) {
    const [kind, id] = f.path;
    if (f.severity !== 'stop' || kind !== 'event' || typeof id !== 'string') continue;
    const own = out.get(id) ?? [];
    if (!own.includes(f.words.text)) out.set(id, [...own, f.words.text]);
  }
  return out;
};
