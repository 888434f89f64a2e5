/** A definition: an event made of what was recorded, without a new release. */
import type { PropertyRef } from '../plan/property-path';

/** What a condition looks at. A page is a path of segments, a query, or the whole address. */
export type Subject =
  | { readonly of: 'event name' | 'source' | 'environment' | 'release' | 'page path' | 'page query' | 'page address' }
  | { readonly of: 'property' | 'user property'; readonly name: PropertyRef };

export const TEXT_OPERATORS = ['is', 'is not', 'is one of', 'is none of', 'contains', 'starts with', 'matches'] as const;
export const NUMBER_OPERATORS = ['at least', 'at most', 'more than', 'less than'] as const;
export const PRESENCE_OPERATORS = ['is present', 'is absent', 'is empty'] as const;
export type Operator = (typeof TEXT_OPERATORS)[number] | (typeof NUMBER_OPERATORS)[number] | (typeof PRESENCE_OPERATORS)[number];

export type Operand = string | number | boolean;

/** What a subject must be like. Values are compared with their type: text is never a number. What is absent fulfils *is absent* alone; *is empty*
 *  is a text, a list or an object with nothing in it.
 */
export interface Condition {
  readonly subject: Subject;
  readonly op: Operator;
  /** One for most operators, several for *is one of* and *is none of*, none for presence. */
  readonly values: readonly Operand[];
}

/** Conditions of which all, or any, must hold; groups are nested once. A group of nothing holds where all must, and never where any must. */
export interface Group {
  readonly match: 'all' | 'any';
  readonly conditions: readonly Condition[];
  readonly groups: readonly { readonly match: 'all' | 'any'; readonly conditions: readonly Condition[] }[];
}

/** What a definition is made of: the messages of any of these events (twins, former names, other definitions), raw interactions, or views. */
export type Source =
  | { readonly of: 'events'; readonly names: readonly string[] }
  | { readonly of: 'interactions' }
  | { readonly of: 'views' };

/** What becomes of a property in the defined event; what is not listed is copied as it is. */
export type Change =
  | { readonly what: 'set'; readonly name: PropertyRef; readonly value: Operand }
  | { readonly what: 'rename'; readonly name: PropertyRef; readonly to: string }
  | { readonly what: 'drop'; readonly name: PropertyRef };

export interface Definition {
  readonly name: string;
  readonly source: Source;
  readonly where: Group;
  readonly changes: readonly Change[];
  /** UTC epoch ms from which it holds; `undefined` for all history. */
  readonly since?: number | undefined;
}

/** Takes every message of the source. */
export const EVERYTHING: Group = { match: 'all', conditions: [], groups: [] };

export const takesSeveral = (op: Operator): boolean => op === 'is one of' || op === 'is none of';
export const takesNone = (op: Operator): boolean => (PRESENCE_OPERATORS as readonly string[]).includes(op);
export const takesNumber = (op: Operator): boolean => (NUMBER_OPERATORS as readonly string[]).includes(op);
