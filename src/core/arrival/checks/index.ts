/** The registry of checks on a message. Value checks run in this order, and the first that finds something speaks. */
import { outOfRange } from './out-of-range';
import { patternMismatch } from './pattern-mismatch';
import { placeholderValue } from './placeholder-value';
import { propertyMissing } from './property-missing';
import { unknownEvent } from './unknown-event';
import { valueNotAllowed } from './value-not-allowed';
import { wrongType } from './wrong-type';

export const valueChecks = [placeholderValue, wrongType, valueNotAllowed, outOfRange, patternMismatch] as const;
export const messageChecks = [unknownEvent, propertyMissing] as const;
