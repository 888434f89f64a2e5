/** The face of a check on arriving messages. One check a file in checks/ (on one message) and many/ (over many). */
import type { Example } from '../findings/finding';
import type { RuleSetting, Severity } from '../findings/severity';
import type { IdentifierKind, Plan, Property } from '../plan/plan';
import type { PropertyRef } from '../plan/property-path';
import { masked } from './personal-data';

export interface CheckWords<Code extends string, Params> {
  readonly id: Code;
  readonly title: string;
  readonly why: string;
  readonly example: Example;
  /** How it is judged, in sentences, where the example and the parameters do not say it. */
  readonly method?: string;
  readonly severity: Severity;
  /** The event that the sentence is about, where it is another than that which came. */
  subject?(params: Params): string | undefined;
  /** What is wrong, as the middle of a sentence: "`Tool Viewed` came with …". */
  message(params: Params): string;
  cause(params: Params): string;
  fix(params: Params): string;
  /** Whose work the fix is: that of the source's owner, or of whoever keeps the plan. */
  fixer(params: Params): Fixer;
  /** What was to be expected, and what came instead, in a few words each, to be read side by side. */
  expected(params: Params): string;
  received(params: Params): string;
  /** What tells causes on the same field apart, such as the value itself; all of a field are one cause where it is left out. */
  variant?(params: Params): string;
  /** Messages that did not come, for each that says so. */
  missing?(params: Params): number;
  /** What of a message shows it best; its properties where it is left out. */
  readonly shows?: Shown;
  /** Numbers that a workspace can set, by a name of one word. */
  readonly parameters?: Parameters;
}

export type Fixer = 'source' | 'plan';

/** Parts of a message that a finding is read from. */
export type Shown = 'properties' | 'page' | 'ids' | 'times' | 'user properties' | 'name';

export interface Parameter {
  readonly title: string;
  /** As it is behind the number; empty for none. */
  readonly unit: string;
  /** What it is unless the workspace says otherwise. */
  readonly value: number;
  readonly min: number;
  readonly max: number;
  /** Whole numbers alone. */
  readonly whole?: boolean;
}
export type Parameters = Readonly<Record<string, Parameter>>;
export type Values<P extends Parameters> = { readonly [K in keyof P]: number };

/** Whether a number can mean a parameter. */
export const isWithin = ({ min, max, whole }: Parameter, n: number): boolean =>
  n >= min && n <= max && (whole !== true || Number.isInteger(n));

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

/** What a check on a message compiles to, by the part of the message that it looks at. */
export interface Looks<Params> {
  /** At the name of an event. */
  name(name: string): Params | undefined;
  /** At a message that has no identifier at all. */
  'no identifiers'(): Params | undefined;
  /** At the values of a kind of identifier, as it is planned; a kind that is not planned comes with no name. */
  identifier(kind: PlannedKind): ((value: string, kind: string) => Params | undefined) | undefined;
  /** At a kind of identifier that is not planned. */
  'unplanned kind'(kind: string): Params | undefined;
  /** At a required property that is not there. */
  'missing property'(property: PropertyRef): Params | undefined;
  /** At the share of devices from which the message was sent, where that is not all. */
  'sample rate'(rate: number): Params | undefined;
  /** At how many messages were let go on the device before it. */
  'lost before'(count: number): Params | undefined;
  /** At a property that is not planned on its event; `planned` are the names in the same place. */
  'unplanned property'(property: PropertyRef, planned: readonly string[]): Params | undefined;
  /** At a user property that is not planned; `planned` are the names in the same place. */
  'unplanned user property'(property: PropertyRef, value: unknown, planned: readonly string[]): Params | undefined;
}

export type Part = keyof Looks<unknown>;

export type PlannedKind = Pick<IdentifierKind, 'name' | 'pattern' | 'personalData' | 'sample'>;

/** A check on a part of a message, compiled from the plan; `undefined` where the plan gives it nothing to judge by. */
export interface MessageCheck<Code extends string = string, Params = never, P extends Part = Part> extends CheckWords<Code, Params> {
  readonly on: P;
  compile(plan: Plan): Looks<Params>[P] | undefined;
  /** Of a check on a property that is not planned: the kind of identifier with which a message is excused. */
  excusedBy?(params: Params): string;
  /** Where it is, if that is another place than the one that was looked at. */
  place?(params: Params): readonly (string | number)[];
}

export const defineValueCheck = <const Code extends string, Params>(c: ValueCheck<Code, Params>): ValueCheck<Code, Params> => c;
export const defineMessageCheck = <const Code extends string, Params, const P extends Part>(
  c: MessageCheck<Code, Params, P>,
): MessageCheck<Code, Params, P> => c;

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
