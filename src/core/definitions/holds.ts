/** What each operator means, on one value. */
import { isScalar, type Value } from '../table/message-table';
import { readPattern } from '../plan/pattern';
import type { Condition, Operand } from './definition';

const isEmpty = (v: Value): boolean => (isScalar(v) ? v === '' : v.size === 0);

const compares = (v: Value, op: Condition['op'], than: Operand | undefined): boolean => {
  if (typeof v !== 'number' || typeof than !== 'number') return false;
  return op === 'at least' ? v >= than : op === 'at most' ? v <= than : op === 'more than' ? v > than : v < than;
};

/** A condition as a test of a value; `undefined` stands for one that is absent.
 *  Errors: a pattern that cannot be read holds for nothing; what is wrong with it is said where it is written.
 */
export const testOf = ({ op, values }: Pick<Condition, 'op' | 'values'>): ((v: Value | undefined) => boolean) => {
  const [first] = values;
  const text = typeof first === 'string' ? first : undefined;
  const among = (v: Value): boolean => isScalar(v) && values.includes(v);
  const onPresent = ((): ((v: Value) => boolean) => {
    switch (op) {
      case 'is':
        return (v) => v === first;
      case 'is not':
        return (v) => v !== first;
      case 'is one of':
        return among;
      case 'is none of':
        return (v) => !among(v);
      case 'contains':
        return (v) => text !== undefined && typeof v === 'string' && v.includes(text);
      case 'starts with':
        return (v) => text !== undefined && typeof v === 'string' && v.startsWith(text);
      case 'matches': {
        const pattern = text === undefined ? undefined : readPattern(text);
        return (v) => pattern?.ok === true && typeof v === 'string' && pattern.pattern.test(v);
      }
      case 'is present':
        return () => true;
      case 'is absent':
        return () => false;
      case 'is empty':
        return isEmpty;
      default:
        return (v) => compares(v, op, first);
    }
  })();
  return (v) => (v === undefined ? op === 'is absent' : onPresent(v));
};
