/** A captured trial: messages as they were sent or received, line by line, with lines between them that say when each step began. */
import { isObject } from '../plan/property-path';
import { parseInstant } from '../plan/property-type';
import type { Mark, TrialMessage, TrialRun } from './run';
import type { TrialScript } from './script';

/** Whether a line says what was done, whatever the script. */
export const isMark = (v: unknown): boolean => isObject(v) && 'step' in v && typeof v['at'] === 'string' && !('id' in v);

/** A line that says what was done: `{"step": 2, "at": "2026-03-01T09:30:00Z"}`; the step by its number or ID, `baseline`, or `end`. */
export const markOf = (v: unknown, script: TrialScript): Mark | undefined => {
  if (!isObject(v) || !('step' in v) || typeof v['at'] !== 'string') return undefined;
  const at = parseInstant(v['at']);
  const { step, skipped } = v;
  const id =
    typeof step === 'number'
      ? script.steps[step - 1]?.id
      : step === 'baseline' || step === 'end'
        ? step
        : script.steps.find((s) => s.id === step)?.id;
  if (at === undefined || id === undefined) return undefined;
  return { step: id, at, ...(typeof skipped === 'string' ? { skipped } : {}) };
};

/** The lines of a capture, as they are written.
 *  Shape: marks and messages by the server's clock; at one moment a mark goes first, since what follows came of it.
 */
export const captureLines = (run: TrialRun, messages: readonly { readonly receivedAt: number; readonly line: object }[]): string => {
  const number = new Map(run.script.steps.map((s, i) => [s.id, i + 1]));
  const lines = [
    ...run.marks.map((m) => ({
      at: m.at,
      line: {
        step: number.get(m.step) ?? m.step,
        at: new Date(m.at).toISOString(),
        ...(m.skipped === undefined ? {} : { skipped: m.skipped }),
      },
    })),
    ...messages.map((m) => ({ at: m.receivedAt, line: { ...m.line, received_at: new Date(m.receivedAt).toISOString() } })),
  ].sort((a, b) => a.at - b.at);
  return lines.map((l) => `${JSON.stringify(l.line)}\n`).join('');
};

/** When each step began, guessed from the messages of a file that does not say it: a step begins with the first message that it expects and the one
 *  before does not, or no longer.
 */
export const guessMarks = (script: TrialScript, messages: readonly TrialMessage[]): Mark[] => {
  const marks: Mark[] = [];
  let current = -1;
  let came = new Map<string, number>();
  const expectsOf = (i: number, name: string): number =>
    (script.steps[i]?.expects ?? []).filter((e) => e.event === name).reduce((n, e) => n + e.max, 0);
  for (const m of messages) {
    if (m.kind !== 'event') continue;
    const next = script.steps.findIndex((_, i) => i > current && expectsOf(i, m.name) > 0);
    const wantsMore = current >= 0 && (came.get(m.name) ?? 0) < expectsOf(current, m.name);
    if (next >= 0 && !wantsMore) {
      current = next;
      came = new Map();
      marks.push({ step: script.steps[next]!.id, at: m.receivedAt });
    }
    came.set(m.name, (came.get(m.name) ?? 0) + 1);
  }
  return marks;
};
