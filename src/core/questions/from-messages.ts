/** A question out of messages that somebody picked, without knowing the names beforehand. */
import { DAY_MS, HOUR_MS } from '../time';
import type { ConditionValue, Conversion, Formula, Step } from './formula';

export interface PickedMessage {
  readonly name: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly properties: { readonly [name: string]: unknown };
  /** The property whose value is to be the condition; none when left out. */
  readonly by?: string;
}

const WINDOWS = [HOUR_MS, DAY_MS, 7 * DAY_MS, 28 * DAY_MS];

/** A value that can be a condition, kept exactly with its type; `undefined` for lists, objects and null. */
const conditionValue = (v: unknown): ConditionValue | undefined =>
  typeof v === 'string' || typeof v === 'number' || typeof v === 'boolean' ? v : undefined;

const stepOf = (m: PickedMessage): Step => {
  const is = m.by !== undefined && Object.hasOwn(m.properties, m.by) ? conditionValue(m.properties[m.by]) : undefined;
  return { eventName: m.name, where: m.by === undefined || is === undefined ? [] : [{ property: m.by, is }] };
};

/** The formula that picked messages suggest: one gives active persons, several give a conversion.
 *  Shape: steps in the order in which the messages occurred, not in which they were picked; where two at once, in the order of picking.
 *  Value and type of a picked property are kept exactly: text is never a number. The window is the shortest usual one that the messages
 *  themselves fit into. `undefined` without a message.
 */
export const formulaFromMessages = (picked: readonly PickedMessage[]): Formula | undefined => {
  const ordered = [...picked].sort((a, b) => a.occurredAt - b.occurredAt);
  const [first] = ordered;
  if (!first) return undefined;
  const steps = ordered.map(stepOf);
  if (steps.length === 1) return { type: 'active persons', events: steps, period: 'week' };
  const span = ordered.at(-1)!.occurredAt - first.occurredAt;
  const windowMs = WINDOWS.find((w) => span <= w) ?? Math.ceil(span / DAY_MS) * DAY_MS;
  return { type: 'conversion', steps, windowMs, overDays: 28 } satisfies Conversion;
};
