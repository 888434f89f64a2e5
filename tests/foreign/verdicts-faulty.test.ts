/** Workspaces with one planted fault each: it is found at its source, and nothing beyond it. */
import { describe, expect, test } from 'vitest';
import { MANY_FAULTS, MESSAGE_FAULTS } from './faults';
import { verdictsOn } from './judge';
import { foreignWorkspace } from './workspace';
import { draws } from '../build/draws';

const FAULTS = { ...MESSAGE_FAULTS, ...MANY_FAULTS };
const PER_FAULT = 4;
const DRAWN = draws(1, PER_FAULT);

describe('workspaces, each with a fault', () => {
  test.each(Object.entries(FAULTS).map(([name, plant], i) => [name, plant, i] as const))('%s', (_, plant, i) => {
    for (let k = 0; k < DRAWN; k++) {
      const seed = 2000 + i * PER_FAULT + k;
      const { w, expected } = plant(foreignWorkspace(seed), 1);
      expect([seed, verdictsOn(w, expected)]).toEqual([seed, { missed: [], invented: [] }]);
    }
  });
});
