/** The registry: a plain list, in the order in which findings are shown within a severity. */
import { nameCase } from './name-case';
import { nameTense } from './name-tense';
import { nameWordOrder } from './name-word-order';
import { nearDuplicateNames } from './near-duplicate-names';
import { questionNotAnswerable } from './question-not-answerable';
import { triggerMissing } from './trigger-missing';
import { triggerOnAttempt } from './trigger-on-attempt';
import { unitMissing } from './unit-missing';
import { vaguePropertyName } from './vague-property-name';

export const rules = [
  triggerOnAttempt,
  nearDuplicateNames,
  nameCase,
  nameWordOrder,
  nameTense,
  vaguePropertyName,
  unitMissing,
  triggerMissing,
  questionNotAnswerable,
] as const;
