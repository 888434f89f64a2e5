/** Formulas as typed data: what exactly is counted. Sentence, needs and computation of each live in formulas/. */
import { DAY_MS } from '../time';
import { movedRef, refText, type PropertyRef } from '../plan/property-path';

export type ConditionValue = string | number | boolean;

export const OPERATORS = ['is', 'is not', 'at least', 'at most', 'more than', 'less than', 'contains', 'is present', 'is absent'] as const;
export type Operator = (typeof OPERATORS)[number];

/** Operators that look at presence alone. */
export const isUnary = (op: Operator | undefined): boolean => op === 'is present' || op === 'is absent';
/** Operators that do arithmetic, and so need a number. */
export const isArithmetic = (op: Operator | undefined): boolean =>
  op === 'at least' || op === 'at most' || op === 'more than' || op === 'less than';

/** A condition on a property of the message, or on a user property as it was at the message's time. */
export interface Condition {
  readonly property: PropertyRef;
  readonly is: ConditionValue;
  /** `is` when it is left out. */
  readonly op?: Operator;
  readonly of?: 'user property';
}

/** An event by name, with conditions that must all hold. The name may be one that the plan lacks. */
export interface Step {
  readonly eventName: string;
  readonly where: readonly Condition[];
}

export const PERIODS = ['day', 'week', 'month'] as const;
export type Period = (typeof PERIODS)[number];

/** Persons (or their sessions) that did something, left out of the count or kept alone. */
export interface PersonFilter {
  readonly mode: 'leaving out' | 'keeping only';
  readonly who: 'persons' | 'sessions';
  readonly did: Step;
}

export interface GroupBy {
  readonly of: 'property' | 'user property';
  readonly name: PropertyRef;
}

interface Narrowed {
  readonly filters?: readonly PersonFilter[];
  readonly groupBy?: GroupBy;
}

export interface ActivePersons extends Narrowed {
  readonly type: 'active persons';
  /** Any of these counts. */
  readonly events: readonly Step[];
  readonly period: Period;
  /** Counts, for each day, the persons of the so many days that end with it; the period is then the day. */
  readonly rollingDays?: number;
}

export interface Conversion extends Narrowed {
  readonly type: 'conversion';
  /** At least two. */
  readonly steps: readonly Step[];
  /** From the first step to the last. */
  readonly windowMs: number;
  /** First steps of the last so many days are looked at. */
  readonly overDays: number;
  /** The further steps may come in any order after the first. */
  readonly anyOrder?: boolean;
}

export interface AveragePerPerson extends Narrowed {
  readonly type: 'average per person';
  readonly event: Step;
  /** The denominator; `open` until it is chosen. */
  readonly per: 'open' | 'persons with it' | 'active persons';
  /** What makes a person active, where that is the denominator. */
  readonly active: readonly Step[];
  readonly period: Period;
}

export interface Retention extends Narrowed {
  readonly type: 'retention';
  readonly start: Step;
  readonly returning: Step;
  readonly day: number;
  readonly mode: 'on day' | 'on or after day';
  /** First starts of the last so many days are the cohorts. */
  readonly overDays: number;
}

export interface TotalOfProperty extends Narrowed {
  readonly type: 'total of a property';
  readonly event: Step;
  readonly property: PropertyRef;
  readonly period: Period;
}

export interface TopValues extends Narrowed {
  readonly type: 'top values';
  readonly event: Step;
  readonly property: PropertyRef;
  readonly measure: 'messages' | 'persons' | 'sum';
  /** The numeric property that is summed. */
  readonly sumOf?: PropertyRef;
  readonly overDays: number;
}

export interface ShareWhoAlsoDid extends Narrowed {
  readonly type: 'share who also did';
  readonly first: Step;
  readonly also: Step;
  readonly overDays: number;
}

export interface RateOfValue extends Narrowed {
  readonly type: 'rate of a value';
  readonly event: Step;
  readonly condition: Condition;
  readonly of: 'messages' | 'persons';
  readonly overDays: number;
}

export type Formula =
  | ActivePersons
  | Conversion
  | AveragePerPerson
  | Retention
  | TotalOfProperty
  | TopValues
  | ShareWhoAlsoDid
  | RateOfValue;
export type FormulaType = Formula['type'];
export type FormulaOf<T extends FormulaType> = Extract<Formula, { type: T }>;

/** The steps of a formula proper, without those of its filters. */
export const ownSteps = (f: Formula): readonly Step[] => {
  switch (f.type) {
    case 'active persons':
      return f.events;
    case 'conversion':
      return f.steps;
    case 'average per person':
      return f.per === 'active persons' ? [f.event, ...f.active] : [f.event];
    case 'retention':
      return [f.start, f.returning];
    case 'share who also did':
      return [f.first, f.also];
    default:
      return [f.event];
  }
};

/** All steps: the formula's own, then those of its filters. */
export const stepsOf = (f: Formula): readonly Step[] => [...ownSteps(f), ...(f.filters ?? []).map((x) => x.did)];

const isStep = (v: unknown): v is Step => typeof v === 'object' && v !== null && 'eventName' in v && 'where' in v;

/** A formula with each of its steps replaced, those of filters included. */
export const mapSteps = (f: Formula, change: (s: Step) => Step): Formula => {
  const walk = (v: unknown): unknown => {
    if (isStep(v)) return change(v);
    if (Array.isArray(v)) return v.map(walk);
    if (typeof v === 'object' && v !== null) return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, walk(x)]));
    return v;
  };
  return walk(f) as Formula;
};

export const mapFormulaEvents = (f: Formula, rename: (name: string) => string): Formula =>
  mapSteps(f, (s) => ({ ...s, eventName: rename(s.eventName) }));

/** A formula with a property of one event renamed wherever it names it. */
export const mapFormulaProperty = (f: Formula, carries: (eventName: string) => boolean, from: PropertyRef, to: PropertyRef): Formula => {
  const named = (p: PropertyRef): PropertyRef => movedRef(p, from, to);
  const renamed = (c: Condition): Condition => (c.of === undefined ? { ...c, property: named(c.property) } : c);
  const g = mapSteps(f, (s) => (carries(s.eventName) ? { ...s, where: s.where.map(renamed) } : s));
  const main = ownSteps(g)[0];
  if (!main || !carries(main.eventName)) return g;
  const grouped: Formula = g.groupBy?.of === 'property' ? { ...g, groupBy: { ...g.groupBy, name: named(g.groupBy.name) } } : g;
  switch (grouped.type) {
    case 'total of a property':
      return { ...grouped, property: named(grouped.property) };
    case 'top values':
      return { ...grouped, property: named(grouped.property), ...(grouped.sumOf === undefined ? {} : { sumOf: named(grouped.sumOf) }) };
    case 'rate of a value':
      return { ...grouped, condition: renamed(grouped.condition) };
    default:
      return grouped;
  }
};

export const spanText = (ms: number): string => {
  const [n, unit] = ms % DAY_MS === 0 ? [ms / DAY_MS, 'day'] : ms % 3_600_000 === 0 ? [ms / 3_600_000, 'hour'] : [ms / 60_000, 'minute'];
  return `${n} ${unit}${n === 1 ? '' : 's'}`;
};

export const EMPTY_STEP: Step = { eventName: '', where: [] };

export const conditionText = (c: Condition): string =>
  `${refText(c.property)} ${c.op ?? 'is'}${isUnary(c.op) ? '' : ` ${String(c.is)}`}${c.of ? ' (of the person, at that time)' : ''}`;

export const stepText = (s: Step): string =>
  s.where.length === 0 ? s.eventName || '…' : `${s.eventName || '…'} where ${s.where.map(conditionText).join(' and ')}`;
