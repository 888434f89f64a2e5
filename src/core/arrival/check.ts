/** The face of a check on arriving messages. One check a file in checks/ (on one message) and batch/ (over many). */
import type { Severity } from '../findings/severity';
import type { Property } from '../plan/plan';

export interface CheckWords<Code extends string, Params> {
  readonly id: Code;
  readonly title: string;
  readonly why: string;
  readonly severity: Severity;
  /** What is wrong, as the middle of a sentence: "`Tool Viewed` came with …". */
  message(params: Params): string;
  cause(params: Params): string;
  mend(params: Params): string;
}

/** A check on one value of a planned property, compiled from its definition. */
export interface ValueCheck<Code extends string = string, Params = never> extends CheckWords<Code, Params> {
  readonly on: 'value';
  /** A test of a value that gives the finding's params, or `undefined` where the check does not apply to the property. */
  compile(property: Property): ((value: unknown) => Params | undefined) | undefined;
}

/** A check that the compiler itself carries out on a whole message. */
export interface MessageCheck<Code extends string = string, Params = never> extends CheckWords<Code, Params> {
  readonly on: 'message';
}

export const defineValueCheck = <const Code extends string, Params>(c: ValueCheck<Code, Params>): ValueCheck<Code, Params> => c;
export const defineMessageCheck = <const Code extends string, Params>(c: MessageCheck<Code, Params>): MessageCheck<Code, Params> => c;

/** A value as shown in a sentence: JSON, cut at 60 characters. */
export const shown = (v: unknown): string => {
  const t = textOf(v);
  return t.length > 60 ? `${t.slice(0, 59)}…` : t;
};

const textOf = (v: unknown): string => {
  try {
    return JSON.stringify(v) ?? 'nothing';
  } catch {
    // Nested deeper than the stack is high.
    return 'a value nested too deeply to show';
  }
};
