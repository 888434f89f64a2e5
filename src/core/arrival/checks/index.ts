/** The registry of checks on a message. Value checks run in this order, and the first that finds something speaks;
 *  so do checks on one identifier and on one user property that is not planned.
 */
import { emptyValue } from './empty-value';
import { formerName } from './former-name';
import { fromSample } from './from-sample';
import { identifierAsProperty } from './identifier-as-property';
import { lostBefore } from './lost-before';
import { malformedIdentifier } from './malformed-identifier';
import { noIdentifier } from './no-identifier';
import { outOfRange } from './out-of-range';
import { patternMismatch } from './pattern-mismatch';
import { personalData } from './personal-data';
import { personalIdentifier } from './personal-identifier';
import { placeholderValue } from './placeholder-value';
import { propertyMissing } from './property-missing';
import { swappedUserProperty } from './swapped-user-property';
import { unknownEvent } from './unknown-event';
import { unplannedIdentifier } from './unplanned-identifier';
import { unplannedProperty } from './unplanned-property';
import { unplannedUserProperty } from './unplanned-user-property';
import { valueNotAllowed } from './value-not-allowed';
import { wrongType } from './wrong-type';

export const valueChecks = [placeholderValue, wrongType, valueNotAllowed, outOfRange, patternMismatch, emptyValue, personalData] as const;
export const messageChecks = [
  unknownEvent,
  formerName,
  propertyMissing,
  unplannedProperty,
  noIdentifier,
  personalIdentifier,
  malformedIdentifier,
  identifierAsProperty,
  unplannedIdentifier,
  swappedUserProperty,
  unplannedUserProperty,
  fromSample,
  lostBefore,
] as const;
