/** A value of a defined event, out of what its message has. Apart from where it comes from, since that is read where no columns are. */
import type { PropertyRef } from '../plan/property-path';
import { isScalar, type Value } from '../table/message-table';
import type { ComesFrom } from './defined-values';

/** The value of one message. `at` gives what it has at a path. */
export const valueFrom = (from: ComesFrom, at: (path: PropertyRef) => Value | undefined): Value | undefined => {
  switch (from.what) {
    case 'nothing':
      return undefined;
    case 'path':
      return at(from.path);
    case 'value': {
      const around = valueFrom(from.around, at);
      return around === undefined || (!isScalar(around) && around.kind === 'object') ? from.value : undefined;
    }
    default:
      return valueFrom(valueFrom(from.has, at) === undefined ? from.otherwise : from.then, at);
  }
};
