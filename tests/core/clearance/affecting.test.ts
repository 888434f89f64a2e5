/** Which findings are listed beside a figure. */
import { expect, test } from 'vitest';
import { affecting } from '../../../src/core/clearance/affecting';

const f = (key: string, ...touches: string[]) => ({ key, touches });

test('those on its events, and those of no event that a gate names; each once, in their order; no other', () => {
  const found = [f('clock'), f('view', 'Tool Viewed'), f('both', 'Guide Read', 'Tool Viewed'), f('other', 'Guide Read'), f('device')];
  const gates = [{ findings: ['device', 'view'] }, {}, { findings: ['clock', 'gone'] }, { findings: undefined }];
  expect(affecting(found, new Set(['Tool Viewed']), gates).map((x) => x.key)).toEqual(['clock', 'view', 'both', 'device']);
  expect(affecting(found, new Set(), [])).toEqual([]);
});
