/** The words of arrival findings, by code. */
import { manyChecks } from './many/index';
import type { CheckWords, Fixer, Shown } from './check';
import { messageChecks, valueChecks } from './checks/index';
import type { Said } from './message-finding';

type AnyCheck = CheckWords<string, unknown>;

const byId = new Map<string, AnyCheck>([...valueChecks, ...messageChecks, ...manyChecks].map((c) => [c.id, c as unknown as AnyCheck]));

/** What tells the cause of a finding from others on the same field; empty for nothing. */
export const variantOf = ({ code, params }: Said): string => byId.get(code)?.variant?.(params) ?? '';

/** What of a message shows a finding best. */
export const shownOf = (code: string): Shown => byId.get(code)?.shows ?? 'properties';

export interface FindingWords {
  readonly title: string;
  readonly why: string;
  readonly message: string;
  readonly cause: string;
  readonly fix: string;
  readonly fixer: Fixer;
  readonly expected: string;
  readonly received: string;
}

/** Title, sentence, cause and fix of a finding; `undefined` for a code that no check has any more: findings outlive checks. */
export const wordsFor = ({ code, params }: Said): FindingWords | undefined => {
  const c = byId.get(code);
  return (
    c && {
      title: c.title,
      why: c.why,
      message: c.message(params),
      cause: c.cause(params),
      fix: c.fix(params),
      fixer: c.fixer(params),
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

/** Messages that did not come, for each on which this was found; `undefined` where it speaks of none. */
export const missingBy = ({ code, params }: Said): number | undefined => byId.get(code)?.missing?.(params);

/** The finding as a whole sentence, which begins with the event's name; without one it speaks of messages. */
export const findingSentence = (said: Said, eventName: string): string => {
  const words = wordsFor(said);
  if (!words) return said.code;
  if (said.code === 'unknown-event') return `${words.message}.`;
  const subject = byId.get(said.code)?.subject?.(said.params) ?? eventName;
  return subject === '' ? `Messages ${words.message}.` : `\`${subject}\` ${words.message}.`;
};
