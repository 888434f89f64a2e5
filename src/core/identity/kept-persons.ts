/** Persons that are asked for again: kept by table and rules, and followed as messages come. */
import { canonicalJson } from '../plan/content-hash';
import type { MessageTable } from '../table/message-table';
import { LivingPersons } from './living-persons';
import type { PersonRules } from './person-rules';
import type { Persons } from './persons';

interface Kept {
  readonly of: MessageTable;
  readonly rules: string;
  readonly living: LivingPersons;
  value: Persons;
}

/** A way to the persons in a table under some rules, of which so many are kept, those asked for lately. What came since they were last asked for changes only
 *  what it touches.
 */
export const keepingPersons = (most: number): ((table: MessageTable, rules: PersonRules) => Persons) => {
  let kept: Kept[] = [];
  return (table, rules) => {
    const key = canonicalJson(rules);
    const known = kept.find((p) => p.of === table && p.rules === key);
    if (known) {
      if (known.living.follow() > 0) known.value = known.living.persons();
      return known.value;
    }
    const living = new LivingPersons(table, rules);
    living.follow();
    const value = living.persons();
    kept = [{ of: table, rules: key, living, value }, ...kept].slice(0, most);
    return value;
  };
};
