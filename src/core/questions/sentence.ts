/** A formula's sentence as parts: plain words, and slots that can be filled in place. One definition gives the text and the editor. */
import {
  EMPTY_STEP,
  conditionText,
  isUnary,
  stepText,
  type Condition,
  type Formula,
  type GroupBy,
  type PersonFilter,
  type Step,
} from './formula';
import { isOpenRef, refText, type PropertyRef } from '../plan/property-path';

export type Part =
  | { readonly part: 'words'; readonly text: string }
  | {
      readonly part: 'event';
      readonly label: string;
      readonly step: Step;
      readonly set: (s: Step) => Formula;
      readonly remove?: () => Formula;
    }
  | {
      readonly part: 'property';
      readonly label: string;
      /** The event whose properties are offered. */
      readonly eventName: string;
      readonly of: 'property' | 'user property';
      readonly numeric?: boolean;
      readonly value: PropertyRef;
      readonly set: (ref: PropertyRef) => Formula;
    }
  | {
      readonly part: 'condition';
      readonly eventName: string;
      readonly condition: Condition;
      readonly set: (c: Condition) => Formula;
    }
  | {
      readonly part: 'choice';
      readonly label: string;
      readonly value: string;
      readonly options: readonly string[];
      readonly set: (v: string) => Formula;
    }
  | {
      readonly part: 'number';
      readonly label: string;
      readonly value: number;
      readonly min: number;
      readonly max: number;
      readonly set: (n: number) => Formula;
    }
  | { readonly part: 'add' | 'remove'; readonly label: string; readonly make: () => Formula };

export const words = (text: string): Part => ({ part: 'words', text });
export const eventPart = (label: string, step: Step, set: (s: Step) => Formula, remove?: () => Formula): Part => ({
  part: 'event',
  label,
  step,
  set,
  ...(remove ? { remove } : {}),
});
/** A choice among values that have a text. */
export const choicePart = <T>(label: string, value: T, all: readonly T[], text: (v: T) => string, set: (v: T) => Formula): Part => ({
  part: 'choice',
  label,
  value: text(value),
  options: all.map(text),
  set: (chosen) => set(all.find((v) => text(v) === chosen) ?? value),
});
export const numberPart = (label: string, value: number, min: number, max: number, set: (n: number) => Formula): Part => ({
  part: 'number',
  label,
  value,
  min,
  max,
  set,
});
export const add = (label: string, make: () => Formula): Part => ({ part: 'add', label, make });

/** A list of events joined by a word, each removable, with one more to add. */
export const eventList = (
  labelOf: (i: number) => string,
  steps: readonly Step[],
  min: number,
  joint: string,
  set: (s: readonly Step[]) => Formula,
): Part[] => {
  const shown = [...steps, ...Array.from({ length: Math.max(0, min - steps.length) }, () => EMPTY_STEP)];
  return [
    ...shown.flatMap((s, i): Part[] => [
      ...(i > 0 ? [words(` ${joint} `)] : []),
      eventPart(labelOf(i), s, (n) => set(shown.with(i, n)), shown.length > min ? () => set(shown.toSpliced(i, 1)) : undefined),
    ]),
    add(joint, () => set([...shown, EMPTY_STEP])),
  ];
};

/** The tail that every formula may have: who is left out or kept, and what it is grouped by. */
export const narrowing = (f: Formula, mainEvent: string): Part[] => {
  const filters = f.filters ?? [];
  const setFilters = (next: readonly PersonFilter[]): Formula => {
    const { filters: _, ...rest } = f;
    return next.length > 0 ? { ...rest, filters: next } : rest;
  };
  const setGroup = (g: GroupBy | undefined): Formula => {
    const { groupBy: _, ...rest } = f;
    return g ? { ...rest, groupBy: g } : rest;
  };
  const parts: Part[] = filters.flatMap((x, i): Part[] => {
    const change = (n: Partial<PersonFilter>) => setFilters(filters.with(i, { ...x, ...n }));
    return [
      words(', '),
      choicePart('Leave out or keep', x.mode, ['leaving out', 'keeping only'] as const, String, (mode) => change({ mode })),
      words(' '),
      choicePart('Persons or sessions', x.who, ['persons', 'sessions'] as const, String, (who) => change({ who })),
      words(' with '),
      eventPart(
        'Event of the filter',
        x.did,
        (did) => change({ did }),
        () => setFilters(filters.toSpliced(i, 1)),
      ),
    ];
  });
  const g = f.groupBy;
  if (g)
    parts.push(
      words(', by '),
      choicePart(
        'Group by a',
        g.of,
        ['property', 'user property'] as const,
        (o) => `the ${o}`,
        (of) => setGroup({ of, name: '' }),
      ),
      words(' '),
      {
        part: 'property',
        label: 'Group by',
        eventName: mainEvent,
        of: g.of,
        value: g.name,
        set: (name) => setGroup({ ...g, name }),
      },
      { part: 'remove', label: 'Remove the grouping', make: () => setGroup(undefined) },
    );
  parts.push(
    add('leave out or keep some', () => setFilters([...filters, { mode: 'leaving out', who: 'persons', did: EMPTY_STEP }])),
    ...(g ? [] : [add('group', () => setGroup({ of: 'property', name: '' }))]),
  );
  return parts;
};

/** The parts as one plain sentence; what is still open shows as an ellipsis. */
export const sentenceText = (parts: readonly Part[]): string =>
  parts
    .map((p) => {
      switch (p.part) {
        case 'words':
          return p.text;
        case 'event':
          return stepText(p.step);
        case 'property':
          return isOpenRef(p.value) ? '…' : refText(p.value);
        case 'condition':
          return isUnary(p.condition.op) || !isOpenRef(p.condition.property) ? conditionText(p.condition) : '…';
        case 'choice':
          return p.value;
        case 'number':
          return String(p.value);
        default:
          return '';
      }
    })
    .join('')
    .replace(/\s+/g, ' ')
    .replace(/ ,/g, ',')
    .trim();
