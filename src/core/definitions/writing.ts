/** A definition while it is written: which parts are still open, what a typed value means, and the edits that save it. */
import type { Edit } from '../plan/edit';
import { sameValue } from '../plan/edit';
import type { Id, PlanDefinition, PropertyType } from '../plan/plan';
import { isNumeric } from '../plan/property-type';
import { isOpenRef } from '../plan/property-path';
import { valueInType, valueOfText } from '../questions/typed-conditions';
import {
  NUMBER_OPERATORS,
  PRESENCE_OPERATORS,
  takesNone,
  takesNumber,
  takesSeveral,
  TEXT_OPERATORS,
  type Change,
  type Condition,
  type Definition,
  type Group,
  type Operand,
  type Operator,
  type Subject,
} from './definition';
import { conditionsIn } from './named';

/** What is written on a sentence: the rest of a definition is saved field by field. */
export type Sentence = Pick<Definition, 'source' | 'where' | 'changes' | 'since'>;
const PARTS = ['source', 'where', 'changes', 'since'] as const;

const isNamed = (s: Subject): s is Extract<Subject, { readonly name: unknown }> => s.of === 'property' || s.of === 'user property';

/** Whether something is still to be chosen or written. */
export const isOpen = ({ subject, op, values }: Condition): boolean =>
  (isNamed(subject) && isOpenRef(subject.name)) ||
  (!takesNone(op) && (values.length === 0 || values.every((v) => v === '') || (takesNumber(op) && typeof values[0] !== 'number')));

const isOpenChange = (c: Change): boolean => isOpenRef(c.name) || (c.what === 'rename' && c.to.trim() === '');

/** How many parts are still open. */
export const openParts = ({ source, where, changes }: Sentence): number =>
  (source.of !== 'events' ? 0 : source.names.length === 0 ? 1 : source.names.filter((n) => n === '').length) +
  conditionsIn(where).filter(isOpen).length +
  changes.filter(isOpenChange).length;

/** The sentence without what is still open: what it says so far. */
export const finished = (s: Sentence): Sentence => {
  const whole = (list: readonly Condition[]): Condition[] => list.filter((c) => !isOpen(c));
  return {
    ...s,
    source: s.source.of === 'events' ? { of: 'events', names: s.source.names.filter((n) => n !== '') } : s.source,
    where: {
      ...s.where,
      conditions: whole(s.where.conditions),
      // A group of nothing would say that anything goes, or nothing does.
      groups: s.where.groups.map((g) => ({ ...g, conditions: whole(g.conditions) })).filter((g) => g.conditions.length > 0),
    },
    changes: s.changes.filter((c) => !isOpenChange(c)),
  };
};

/** The operators that say something about a subject of this type; all where the type is not known. */
export const operatorsFor = (subject: Subject, type: PropertyType | undefined): readonly Operator[] => {
  const all: readonly Operator[] = [...TEXT_OPERATORS, ...NUMBER_OPERATORS, ...PRESENCE_OPERATORS];
  if (subject.of !== 'property' && subject.of !== 'user property') return [...TEXT_OPERATORS, 'is present', 'is absent'];
  if (type === undefined) return all;
  if (type === 'object' || type.startsWith('list')) return PRESENCE_OPERATORS;
  if (isNumeric(type)) return ['is', 'is not', 'is one of', 'is none of', ...NUMBER_OPERATORS, 'is present', 'is absent'];
  if (type === 'boolean') return ['is', 'is not', 'is present', 'is absent'];
  return [...TEXT_OPERATORS, ...PRESENCE_OPERATORS];
};

/** A typed value as the subject has it; `undefined` where the operator compares numbers and it is none. */
export const operandOf = (text: string, op: Operator, subject: Subject, type: PropertyType | undefined): Operand | undefined => {
  if (op === 'contains' || op === 'starts with' || op === 'matches') return text;
  if (takesNumber(op)) return text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : undefined;
  if (!isNamed(subject)) return text;
  return type === undefined ? valueOfText(text) : (valueInType(type, text) ?? text);
};

/** A condition with another operator: values stay as far as it takes them. */
export const withOperator = (c: Condition, op: Operator): Condition => ({
  ...c,
  op,
  values: takesNone(op) ? [] : takesSeveral(op) ? c.values : c.values.slice(0, 1).filter((v) => !takesNumber(op) || typeof v === 'number'),
});

/** A fresh condition, to be filled in. */
export const freshCondition = (): Condition => ({ subject: { of: 'page path' }, op: 'starts with', values: [] });

export const sentenceOf = ({ source, where, changes, since }: Sentence): Sentence => ({ source, where, changes, since });

/** The edits that save a sentence over the one that it was begun from: who changed it meanwhile is not written over. */
export const editsToSave = (id: Id, begun: PlanDefinition, written: Sentence): Edit[] =>
  PARTS.flatMap((field): Edit[] =>
    sameValue(begun[field], written[field])
      ? []
      : [{ op: 'set', kind: 'definition', id, field, before: begun[field], after: written[field] }],
  );

/** A group with one of its parts changed; of conditions the index, of groups the index and the condition in it. */
export const withGroup = (where: Group, at: number, group: Group['groups'][number] | undefined): Group => ({
  ...where,
  groups: group === undefined ? where.groups.toSpliced(at, 1) : where.groups.with(at, group),
});
