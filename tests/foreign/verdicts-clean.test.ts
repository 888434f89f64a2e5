/** Clean workspaces that are not the demo's: nothing of severity stop or caution may be found in any of them. */
import { expect, test } from 'vitest';
import { HARMLESS } from './faults';
import { verdictsOn } from './judge';
import { foreignWorkspace } from './workspace';
import { draws } from '../build/draws';

const SEEDS = Array.from({ length: draws(12, 100) }, (_, i) => 1000 + i);

test('a hundred clean workspaces: nothing is invented', () => {
  const invented = SEEDS.flatMap((seed) => verdictsOn(foreignWorkspace(seed, 330), undefined).invented.map((x) => `${seed} ${x}`));
  expect(invented).toEqual([]);
});

test.each(Object.entries(HARMLESS))('%s: nothing is found', (_, plant) => {
  for (let seed = 1; seed <= 6; seed++)
    expect([seed, verdictsOn(plant(foreignWorkspace(seed, 330)).w, undefined)]).toEqual([seed, { missed: [], invented: [] }]);
});
