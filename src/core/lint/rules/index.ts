/** The registry: a plain list, in the order in which findings are shown within a severity. */
import { attemptNamedAsOutcome } from './attempt-named-as-outcome';
import { comparedByUserProperty } from './compared-by-user-property';
import { conditionCannotHold } from './condition-cannot-hold';
import { conditionOfAnotherType } from './condition-of-another-type';
import { conversionTooGeneral } from './conversion-too-general';
import { definitionCannotHold } from './definition-cannot-hold';
import { definitionForNoQuestion } from './definition-for-no-question';
import { definitionNarrowsNothing } from './definition-narrows-nothing';
import { descriptionMissing } from './description-missing';
import { eventForNoQuestion } from './event-for-no-question';
import { firstEventWithoutId } from './first-event-without-id';
import { flowMissing } from './flow-missing';
import { identifierAsNumber } from './identifier-as-number';
import { identifierAsUserProperty } from './identifier-as-user-property';
import { limitExceeded } from './limit-exceeded';
import { limitNear } from './limit-near';
import { nameCase } from './name-case';
import { nameCharacters } from './name-characters';
import { nameOffList } from './name-off-list';
import { namePlural } from './name-plural';
import { nameReserved } from './name-reserved';
import { nameSynonym } from './name-synonym';
import { nameTense } from './name-tense';
import { nameTooLong } from './name-too-long';
import { nameWordOrder } from './name-word-order';
import { nearDuplicateNames } from './near-duplicate-names';
import { noServerCounterpart } from './no-server-counterpart';
import { numberAsText } from './number-as-text';
import { objectIdentifiedDifferently } from './object-identified-differently';
import { ownerMissing } from './owner-missing';
import { pageViewAsCompleted } from './page-view-as-completed';
import { patternUnreadable } from './pattern-unreadable';
import { percentSign } from './percent-sign';
import { propertyConflict } from './property-conflict';
import { propertyForNoQuestion } from './property-for-no-question';
import { questionNotAnswerable } from './question-not-answerable';
import { questionTermUndefined } from './question-term-undefined';
import { questionWithoutFormula } from './question-without-formula';
import { sameObjectLacks } from './same-object-lacks';
import { sampleMisfit } from './sample-misfit';
import { samplesMissing } from './samples-missing';
import { sourceMissing } from './source-missing';
import { sourceNotLinked } from './source-not-linked';
import { sourceWithoutUserId } from './source-without-user-id';
import { triggerMissing } from './trigger-missing';
import { triggerNotObservable } from './trigger-not-observable';
import { triggerOnAttempt } from './trigger-on-attempt';
import { unitMissing } from './unit-missing';
import { userIdChangeable } from './user-id-changeable';
import { userIdPersonal } from './user-id-personal';
import { userPropertyDiffers } from './user-property-differs';
import { userPropertyNotRegistered } from './user-property-not-registered';
import { userPropertyTooManyValues } from './user-property-too-many-values';
import { vaguePropertyName } from './vague-property-name';
import { valueCase } from './value-case';
import { valuesUnbounded } from './values-unbounded';
import { viewWithoutThreshold } from './view-without-threshold';

export const rules = [
  patternUnreadable,
  triggerOnAttempt,
  numberAsText,
  identifierAsUserProperty,
  userIdPersonal,
  sourceNotLinked,
  limitExceeded,
  conditionCannotHold,
  nearDuplicateNames,
  nameCase,
  nameWordOrder,
  nameTense,
  nameSynonym,
  nameCharacters,
  nameTooLong,
  nameReserved,
  vaguePropertyName,
  valueCase,
  triggerMissing,
  triggerNotObservable,
  attemptNamedAsOutcome,
  pageViewAsCompleted,
  viewWithoutThreshold,
  sourceMissing,
  conversionTooGeneral,
  unitMissing,
  sampleMisfit,
  percentSign,
  identifierAsNumber,
  propertyConflict,
  objectIdentifiedDifferently,
  userPropertyDiffers,
  userPropertyTooManyValues,
  comparedByUserProperty,
  userIdChangeable,
  sourceWithoutUserId,
  firstEventWithoutId,
  limitNear,
  conditionOfAnotherType,
  definitionCannotHold,
  definitionNarrowsNothing,
  definitionForNoQuestion,
  questionNotAnswerable,
  questionTermUndefined,
  questionWithoutFormula,
  sameObjectLacks,
  noServerCounterpart,
  valuesUnbounded,
  nameOffList,
  namePlural,
  ownerMissing,
  flowMissing,
  descriptionMissing,
  samplesMissing,
  userPropertyNotRegistered,
  eventForNoQuestion,
  propertyForNoQuestion,
] as const;
