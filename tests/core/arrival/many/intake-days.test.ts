import { expect, test } from 'vitest';
import { foundBy } from '../../../../src/core/arrival/check-many';
import { sentAgain } from '../../../../src/core/arrival/many/sent-again';
import { turnedAway } from '../../../../src/core/arrival/many/turned-away';
import type { IntakeDay } from '../../../../src/core/arrival/intake-totals';
import { valuesOf } from '../../../../src/core/arrival/check';
import { resolvePersons } from '../../../../src/core/identity/persons';
import { Watch } from '../../../../src/core/plan/watch';
import { RULES, tableOf } from '../../../build/messages';
import { DAY, MINUTE_MS, plan, says } from './harness';

test('what came again and what was rejected, by source and day of the intake', () => {
  const day = (d: number, sourceId: string, accepted: number, duplicates: number, rejected: number): IntakeDay => ({
    day: d,
    sourceId,
    accepted,
    duplicates,
    rejected,
  });
  const intake = [day(3, 's', 1000, 30, 0), day(4, 's', 1000, 0, 60), day(4, 't', 5000, 12, 2), day(5, 's', 10, 20, 0)];
  const c = {
    plan,
    people: resolvePersons(tableOf([]), RULES),
    now: 5.5 * DAY * MINUTE_MS,
    watch: Watch.of(plan, 0),
    intake,
  };
  const again = foundBy(sentAgain, c, valuesOf(sentAgain.parameters, undefined));
  expect(again).toEqual([
    expect.objectContaining({
      sourceId: 's',
      count: 50,
      outOf: 2120,
      firstAt: 3 * DAY * MINUTE_MS,
      lastAt: 5.5 * DAY * MINUTE_MS,
      perDay: new Map([
        [3, 30],
        [5, 20],
      ]),
    }),
  ]);
  expect(says('sent-again', again)).toEqual(['Messages came again under the same message ID, 50 of 2,120; each counts once.']);
  expect(foundBy(turnedAway, c, valuesOf(turnedAway.parameters, undefined))).toMatchObject([{ sourceId: 's', count: 60, outOf: 2120 }]);
  expect(turnedAway.find({ ...c, intake: undefined! }, valuesOf(turnedAway.parameters, undefined))).toEqual([]);
});
