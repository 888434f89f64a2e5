/** The registry of checks over many messages. */
import { clockAhead } from './clock-ahead';
import { clockBehind } from './clock-behind';
import { definitionDropped } from './definition-dropped';
import { doubleFire } from './double-fire';
import { idElsewhere } from './id-elsewhere';
import { idReused } from './id-reused';
import { implausibleTime } from './implausible-time';
import { lateArrival } from './late-arrival';
import { milestones } from './milestones';
import { neverSeen } from './never-seen';
import { noUserId } from './no-user-id';
import { outOfScope } from './out-of-scope';
import { overCommonId } from './over-common-id';
import { parity } from './parity';
import { repeated } from './repeated';
import { sentAgain } from './sent-again';
import { sharedDevice } from './shared-device';
import { silence } from './silence';
import { tooManyValues } from './too-many-values';
import { tooOld } from './too-old';
import { turnedAway } from './turned-away';
import { prematureTrigger } from './premature-trigger';
import { unitSuspicion } from './unit-suspicion';
import { userIdDropped } from './user-id-dropped';
import { usersNeverLinked } from './users-never-linked';
import { volumeChange } from './volume-change';

export const manyChecks = [
  neverSeen,
  noUserId,
  silence,
  volumeChange,
  definitionDropped,
  doubleFire,
  repeated,
  prematureTrigger,
  milestones,
  outOfScope,
  tooManyValues,
  unitSuspicion,
  parity,
  clockAhead,
  clockBehind,
  lateArrival,
  tooOld,
  implausibleTime,
  sharedDevice,
  userIdDropped,
  usersNeverLinked,
  overCommonId,
  idReused,
  idElsewhere,
  sentAgain,
  turnedAway,
] as const;
