/** What was stored by an earlier build is read as it was meant. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { valuesOf } from '../../../src/core/arrival/check';
import { doubleFire } from '../../../src/core/arrival/many/double-fire';
import { allChecks } from '../../../src/core/arrival/words';
import { completed, completedPlan, DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { parseBody } from '../../../src/core/plan/document-schema';
import type { Settings } from '../../../src/core/plan/plan';
import { plan as plans } from '../../build/arbitrary-plan';

const stored = (rules: Settings['rules']): Settings => ({ ...DEFAULT_SETTINGS, rules });

describe('settings that were stored', () => {
  it('keep the number that a workspace gave to a parameter which has another name now', () => {
    const { rules } = completed('settings', stored({ 'double-fire': { parameters: { within: 3, least: 9 } } }));
    expect(rules['double-fire']).toEqual({ parameters: { within: 3, min: 9 } });
    expect(valuesOf(doubleFire.parameters, rules['double-fire'])).toEqual({ within: 3, min: 9, share: doubleFire.parameters!.share.value });
  });

  it('keep all else about a rule', () => {
    const rule = { severity: 'note', off: true, exceptions: [{ kind: 'event', id: 'e', reason: 'known' }] } as const;
    expect(completed('settings', stored({ 'name-case': rule })).rules).toEqual({ 'name-case': rule });
  });

  it('are the same once they were read: reading twice changes nothing', () => {
    fc.assert(
      fc.property(plans, (p) => {
        const once = completedPlan(p);
        expect(completedPlan(once)).toEqual(once);
      }),
    );
  });

  it('lack nothing that came into being later', () => {
    const old = JSON.parse(JSON.stringify(DEFAULT_SETTINGS)) as Record<string, unknown>;
    for (const later of ['historyYears', 'clockToleranceSeconds', 'identityCases', 'provenance', 'rules'])
      Reflect.deleteProperty(old, later);
    const read = completed('settings', old as unknown as Settings);
    expect(read).toEqual(DEFAULT_SETTINGS);
    expect(parseBody('settings', read)).toMatchObject({ ok: true });
  });
});

describe('parameters of the checks', () => {
  const all = allChecks.flatMap((c) => Object.entries(c.parameters ?? {}).map(([name, p]) => ({ check: c.id, name, p })));
  it('have a value within their own bounds, and no name of before', () => {
    expect(all.length).toBeGreaterThan(20);
    for (const { check, name, p } of all) {
      expect([check, name, p.min <= p.value && p.value <= p.max]).toEqual([check, name, true]);
      expect([check, name]).not.toContain('least');
    }
  });
});
