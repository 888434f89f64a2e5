/** The words of arrival findings, by code. */
import { manyChecks } from './batch/index';
import type { CheckWords, Mender, Shown } from './check';
import { messageChecks, valueChecks } from './checks/index';

type AnyCheck = CheckWords<string, unknown>;

const byId = new Map<string, AnyCheck>([...valueChecks, ...messageChecks, ...manyChecks].map((c) => [c.id, c as unknown as AnyCheck]));

/** What tells the cause of a finding from others on the same field; empty for nothing. */
export const variantOf = (code: string, params: unknown): string => byId.get(code)?.variant?.(params) ?? '';

/** What of a message shows a finding best. */
export const shownOf = (code: string): Shown => byId.get(code)?.shows ?? 'properties';

export interface FindingWords {
  readonly title: string;
  readonly why: string;
  readonly message: string;
  readonly cause: string;
  readonly mend: string;
  readonly mender: Mender;
  readonly expected: string;
  readonly received: string;
}

/** Title, sentence, cause and mend of a finding; `undefined` for a code that no check has. */
export const wordsFor = (code: string, params: unknown): FindingWords | undefined => {
  const c = byId.get(code);
  return (
    c && {
      title: c.title,
      why: c.why,
      message: c.message(params),
      cause: c.cause(params),
      mend: c.mend(params),
      mender: c.mender(params),
      expected: c.expected(params),
      received: c.received(params),
    }
  );
};

/** All checks of what arrives, in the order of the registries: on a message, then over many. */
export const allChecks: readonly AnyCheck[] = [...byId.values()];

export const checkOf = (code: string): AnyCheck | undefined => byId.get(code);

/** The title of a check; its code where there is none of it. */
export const checkTitle = (code: string): string => byId.get(code)?.title ?? code;

/** The finding as a whole sentence, which begins with the event's name; without one it speaks of messages. */
export const findingSentence = (code: string, eventName: string, params: unknown): string => {
  const words = wordsFor(code, params);
  if (!words) return code;
  if (code === 'unknown-event') return `${words.message}.`;
  const subject = byId.get(code)?.subject?.(params) ?? eventName;
  return subject === '' ? `Messages ${words.message}.` : `\`${subject}\` ${words.message}.`;
};
