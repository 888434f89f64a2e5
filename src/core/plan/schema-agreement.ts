/** The plan's types and its schemas are one thing: where they differ this file does not compile. */
import type { z } from 'zod';
import type { bodies } from './document-schema';
import type { BodyOf, Kind } from './plan';

/** A type without `readonly`, and with what may be left out told from what may not, to all depths: so that two can be compared. */
type Plain<T> = T extends readonly unknown[]
  ? number extends T['length']
    ? Plain<T[number]>[]
    : { -readonly [I in keyof T]: Plain<T[I]> }
  : T extends object
    ? { -readonly [K in keyof T]-?: Plain<Exclude<T[K], undefined>> | (undefined extends T[K] ? 'may be left out' : never) }
    : T;
type Same<A, B> = [Plain<A>] extends [Plain<B>] ? ([Plain<B>] extends [Plain<A>] ? true : false) : false;

/** The types of the plan and the schemas say the same: a field of one alone, however deep, does not compile. */
export const TYPES_AND_SCHEMAS_AGREE: { readonly [K in Kind]: Same<BodyOf[K], z.output<(typeof bodies)[K]>> } = {
  settings: true,
  source: true,
  question: true,
  event: true,
  property: true,
  sharedSet: true,
  userProperty: true,
  identifierKind: true,
  definition: true,
  trial: true,
};
