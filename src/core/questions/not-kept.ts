/** Paths that a question asks for and the columns may lack: objects with names without end are not kept whole, and a figure over what was not
 *  kept would be 0 without a word.
 */
import type { Question } from '../plan/plan';
import { pathOf, refText, type PropertyRef } from '../plan/property-path';
import type { MessageTable } from '../table/message-table';
import { needsOf, userPropertiesOf } from './coverage';

/** The paths of a question at which values may have come that no column holds. */
export const notKept = (table: MessageTable, question: Question): readonly PropertyRef[] => [
  ...needsOf(question).flatMap((n) => n.properties.map((p) => p.name).filter((ref) => table.mayLack('properties', ref))),
  ...(question.formula ? userPropertiesOf(question.formula) : []).filter((ref) => table.mayLack('userProperties', ref)),
];

/** As a sentence with names in back quotes. */
export const notKeptText = (refs: readonly PropertyRef[]): string => {
  const [ref] = refs;
  return ref === undefined
    ? ''
    : `\`${refText(ref)}\` cannot be counted: the objects that came as \`${pathOf(ref)[0]!}\` hold more names than are kept one by one. Send it as a property of its own.`;
};
