import { describe, expect, test } from 'vitest';
import type { ManySaid } from '../../../../src/core/arrival/message-finding';
import { wordsFor } from '../../../../src/core/arrival/words';
import { type Plan } from '../../../../src/core/plan/plan';
import { DAY, plan, run, user, type Row } from './harness';

describe('no user ID', () => {
  const kiosk: Plan = {
    ...plan,
    source: { s: { ...plan.source['s']!, idKinds: { beforeSignIn: ['device'], afterSignIn: ['device', 'user'] } } },
  };
  const rows: Row[] = Array.from({ length: 120 }, (_, i) => ({ at: i, ids: { device: `d-${i}` } }));
  test('too early, waiting, a fault: by the workspace’s own hours; the counting basis is looked at first', () => {
    expect(run('no-user-id', rows, 0.9 * DAY, kiosk)).toEqual([]);
    expect(run('no-user-id', rows, 2 * DAY, kiosk)).toMatchObject([{ severity: 'note', params: { state: 'waiting' } }]);
    const [found] = run('no-user-id', rows, 4 * DAY, kiosk);
    expect(found).toMatchObject({ sourceId: 's', count: 120, outOf: 120, params: { state: 'fault' } });
    expect(wordsFor({ code: 'no-user-id', params: found!.params } as ManySaid)!.fix).toMatch(
      /^First look whether figures count devices only/,
    );
    const patient = { ...kiosk, settings: { settings: { ...kiosk.settings['settings']!, tooEarlyHours: 100, escalationHours: 200 } } };
    expect(run('no-user-id', rows, 4 * DAY, patient)).toEqual([]);
  });
  test('one that came, a source that cannot carry it, or too few messages are no finding', () => {
    expect(run('no-user-id', [...rows, { at: 130, ids: user(1) }], 4 * DAY, kiosk)).toEqual([]);
    expect(
      run('no-user-id', rows, 4 * DAY, {
        ...kiosk,
        source: { s: { ...kiosk.source['s']!, idKinds: { beforeSignIn: ['device'], afterSignIn: ['device'] } } },
      }),
    ).toEqual([]);
    expect(run('no-user-id', rows.slice(0, 90), 4 * DAY, kiosk)).toEqual([]);
  });
});
