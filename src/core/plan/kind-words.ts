/** Kinds of the plan in words. */
import type { Kind } from './plan';

export const KIND_WORD: Record<Kind, string> = {
  settings: 'settings',
  source: 'source',
  question: 'question',
  event: 'event',
  property: 'property',
  sharedSet: 'shared set',
  userProperty: 'user property',
  identifierKind: 'identifier kind',
  definition: 'definition',
  trial: 'trial',
};
