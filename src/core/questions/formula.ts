/** Formulas: what exactly is counted. Typed data; the sentence and the computation are derived from it. */
export type ConditionValue = string | number | boolean;

export interface Condition {
  readonly property: string;
  readonly is: ConditionValue;
}

/** An event by name, with conditions that must all hold. The name may be one that the plan lacks. */
export interface Step {
  readonly eventName: string;
  readonly where: readonly Condition[];
}

export const PERIODS = ['day', 'week', 'month'] as const;
export type Period = (typeof PERIODS)[number];

export interface ActivePersons {
  readonly type: 'active persons';
  /** Any of these counts. */
  readonly events: readonly Step[];
  readonly period: Period;
}

export interface Conversion {
  readonly type: 'conversion';
  /** In this order; at least two. */
  readonly steps: readonly Step[];
  /** From the first step to the last. */
  readonly windowMs: number;
  /** First steps of the last so many days are looked at. */
  readonly overDays: number;
}

export type Formula = ActivePersons | Conversion;
export const FORMULA_TYPES = ['active persons', 'conversion'] as const satisfies readonly Formula['type'][];

export const stepsOf = (f: Formula): readonly Step[] => (f.type === 'active persons' ? f.events : f.steps);

const withSteps = (f: Formula, steps: readonly Step[]): Formula =>
  f.type === 'active persons' ? { ...f, events: steps } : { ...f, steps };

export const mapFormulaEvents = (f: Formula, rename: (name: string) => string): Formula =>
  withSteps(
    f,
    stepsOf(f).map((s) => ({ ...s, eventName: rename(s.eventName) })),
  );

export const DAY_MS = 86_400_000;

/** A first, incomplete formula of this type; events already chosen are carried over. */
export const startFormula = (type: Formula['type'], from: Formula | null): Formula => {
  const steps = from ? stepsOf(from) : [];
  if (type === 'active persons') return { type, events: steps.slice(0, 1), period: 'week' };
  return { type, steps, windowMs: 7 * DAY_MS, overDays: 28 };
};

export const spanText = (ms: number): string => {
  const [n, unit] = ms % DAY_MS === 0 ? [ms / DAY_MS, 'day'] : ms % 3_600_000 === 0 ? [ms / 3_600_000, 'hour'] : [ms / 60_000, 'minute'];
  return `${n} ${unit}${n === 1 ? '' : 's'}`;
};

const stepText = (s: Step): string =>
  s.where.length === 0 ? s.eventName : `${s.eventName} where ${s.where.map((c) => `${c.property} is ${String(c.is)}`).join(' and ')}`;

/** The formula as one plain sentence. */
export const formulaSentence = (f: Formula): string =>
  f.type === 'active persons'
    ? `Persons with ${f.events.map(stepText).join(' or ') || '…'} in a ${f.period}`
    : `Of persons with ${stepText(f.steps[0] ?? { eventName: '…', where: [] })} in the last ${f.overDays} days, the share with ${
        f.steps.slice(1).map(stepText).join(', then ') || '…'
      } within ${spanText(f.windowMs)}`;
