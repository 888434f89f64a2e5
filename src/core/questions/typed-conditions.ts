/** Conditions have their property's type: a value written before the property existed is read as the type has it, and one that no message can
 *  have is told, since a figure would be 0 without a word.
 */
import { withDefinedEvents } from '../definitions/planned';
import { entries, plannedAt, type Plan, type Property, type UserProperty } from '../plan/plan';
import { eventNamed, plannedPropertiesOf } from '../plan/plan-index';
import { refOfProperty, refText, sameRef } from '../plan/property-path';
import { isNumeric } from '../plan/property-type';
import { isArithmetic, isUnary, mapSteps, type Condition, type ConditionValue, type Formula } from './formula';

type Typed = Pick<Property, 'type' | 'allowed'> & Partial<Pick<Property, 'min' | 'max'>>;

const plannedOf = (plan: Plan, eventName: string, c: Condition): Property | UserProperty | undefined => {
  if (c.of === 'user property')
    return entries(plan, 'userProperty').find(([, u]) => sameRef(refOfProperty(u), c.property) && !u.retired)?.[1];
  const event = eventNamed(plan, eventName);
  return event && plannedAt(plannedPropertiesOf(plan, event[0]), c.property)?.property;
};

const NUMBER = /^-?\d+(\.\d+)?([eE][+-]?\d+)?$/;

/** A value in a type; `undefined` where the type has no such value. */
export const valueInType = (type: Property['type'], value: ConditionValue): ConditionValue | undefined => {
  if (isNumeric(type)) {
    if (typeof value === 'number') return value;
    return typeof value === 'string' && NUMBER.test(value.trim()) ? Number(value) : undefined;
  }
  if (type === 'boolean') return value === true || value === 'true' ? true : value === false || value === 'false' ? false : undefined;
  return type === 'string' || type === 'timestamp' ? String(value) : undefined;
};

/** The value that a text means where no type is known yet: what can only be a number or true or false is that, all else is text. Digits that a
 *  number would not be written with, such as 007, stay text.
 */
export const valueOfText = (text: string): ConditionValue =>
  text === 'true' || text === 'false' ? text === 'true' : text !== '' && String(Number(text)) === text ? Number(text) : text;

const WORD = { number: 'a number', integer: 'a whole number', boolean: 'true or false' } as const;

/** Why no message can fulfil a condition, as the end of a sentence; `undefined` where one can. */
const impossible = ({ type, allowed, min, max }: Typed, c: Condition): string | undefined => {
  if (isUnary(c.op)) return undefined;
  const shown = `“${String(c.is)}”`;
  if (type === 'object' || type.startsWith('list'))
    return `is ${type === 'object' ? 'an object' : 'a list'}: only “is present” and “is absent” can be asked of it`;
  if (isArithmetic(c.op) && !isNumeric(type)) return `is not a number, so “${c.op ?? ''}” never holds`;
  if (c.op === 'contains') return type === 'string' || type === 'timestamp' ? undefined : 'is not text, so “contains” never holds';
  const value = valueInType(type, c.is);
  if (value === undefined) return `is ${WORD[type as keyof typeof WORD]}, and ${shown} is not`;
  if ((c.op ?? 'is') !== 'is') return undefined;
  if (type === 'integer' && !Number.isInteger(value)) return `is a whole number, and ${shown} is not`;
  if (allowed.length > 0 && !allowed.includes(String(value)))
    return `is never ${shown}: the plan allows ${allowed.slice(0, 5).join(', ')}${allowed.length > 5 ? ` and ${allowed.length - 5} more` : ''}`;
  if (typeof value === 'number' && (value < (min ?? -Infinity) || value > (max ?? Infinity)))
    return `is never ${shown}: the plan says ${min === undefined ? `at most ${max!}` : max === undefined ? `at least ${min}` : `${min} to ${max}`}`;
  return undefined;
};

export interface TypedFormula {
  /** Every value in its property's type, where the type has it. */
  readonly formula: Formula;
  /** Conditions that no message can fulfil, each a sentence with names in back quotes. */
  readonly problems: readonly string[];
}

/** Reads a formula's conditions by the types that the plan gives their properties.
 *  Shape: the formula itself where nothing changes; conditions on properties that are not planned are left as they are.
 */
export const typedFormula = (given: Plan, formula: Formula): TypedFormula => {
  const plan = withDefinedEvents(given);
  const problems: string[] = [];
  let changed = false;
  const typed = (eventName: string, c: Condition): Condition => {
    const planned = plannedOf(plan, eventName, c);
    if (!planned || isUnary(c.op)) return c;
    const why = impossible(planned, c);
    if (why !== undefined) problems.push(`\`${refText(c.property)}\`${c.of ? '' : ` of \`${eventName}\``} ${why}.`);
    const value = valueInType(planned.type, c.is);
    if (value === undefined || value === c.is) return c;
    changed = true;
    return { ...c, is: value };
  };
  const withSteps = mapSteps(formula, (s) => ({ ...s, where: s.where.map((c) => typed(s.eventName, c)) }));
  const whole =
    withSteps.type === 'rate of a value' ? { ...withSteps, condition: typed(withSteps.event.eventName, withSteps.condition) } : withSteps;
  return { formula: changed ? whole : formula, problems };
};
