/** The face of a check on arriving messages. One check a file in checks/ (on one message) and batch/ (over many). */
import type { RuleSetting, Severity } from '../findings/severity';
import type { Property } from '../plan/plan';
import { masked } from './personal-data';

export interface CheckWords<Code extends string, Params> {
  readonly id: Code;
  readonly title: string;
  readonly why: string;
  readonly severity: Severity;
  /** The event that the sentence is about, where it is another than that which came. */
  subject?(params: Params): string | undefined;
  /** What is wrong, as the middle of a sentence: "`Tool Viewed` came with …". */
  message(params: Params): string;
  cause(params: Params): string;
  mend(params: Params): string;
  /** Whose work the mend is: that of the source's owner, or of whoever keeps the plan. */
  mender(params: Params): Mender;
  /** What was to be expected, and what came instead, in a few words each, to be read side by side. */
  expected(params: Params): string;
  received(params: Params): string;
  /** What tells causes on the same field apart, such as the value itself; all of a field are one cause where it is left out. */
  variant?(params: Params): string;
  /** What of a message shows it best; its properties where it is left out. */
  readonly shows?: Shown;
  /** Numbers that a workspace can set, by a name of one word. */
  readonly parameters?: Parameters;
}

export type Mender = 'source' | 'plan';

/** Parts of a message that a finding is read from. */
export type Shown = 'properties' | 'page' | 'ids' | 'times' | 'user properties' | 'name';

export interface Parameter {
  readonly title: string;
  /** As it stands behind the number; empty for none. */
  readonly unit: string;
  /** What it is unless the workspace says otherwise. */
  readonly value: number;
  readonly least: number;
  readonly most: number;
  /** Whole numbers alone. */
  readonly whole?: boolean;
}
export type Parameters = Readonly<Record<string, Parameter>>;
export type Values<P extends Parameters> = { readonly [K in keyof P]: number };

/** Whether a number can stand for a parameter. */
export const isWithin = ({ least, most, whole }: Parameter, n: number): boolean =>
  n >= least && n <= most && (whole !== true || Number.isInteger(n));

/** The parameters as they hold: the workspace's own where it set one within the bounds, else those of the check. */
export const valuesOf = <P extends Parameters>(parameters: P | undefined, set: RuleSetting | undefined): Values<P> =>
  Object.fromEntries(
    Object.entries(parameters ?? {}).map(([name, p]) => {
      const own = set?.parameters?.[name];
      return [name, own !== undefined && isWithin(p, own) ? own : p.value];
    }),
  ) as Values<P>;

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

/** A value as shown in a sentence: JSON, cut at 60 characters; personal data in it is masked, since findings are copied on. */
export const shown = (v: unknown): string => {
  const t = masked(textOf(v));
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
