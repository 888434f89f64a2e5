/** What no change may do is refused on every way; what was wrong before is no reason. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { applyEdits, invertAll, setField, type Edit } from '../../../src/core/plan/edit';
import { mayBeRefused, refusedBy } from '../../../src/core/plan/kept-rules';
import { entries, KINDS, settingsOf, SETTINGS_ID, type Plan } from '../../../src/core/plan/plan';
import { removalOf } from '../../../src/core/plan/references';
import { renameEvent, renameUserProperty } from '../../../src/core/plan/rename';
import { plan as arbitraryPlan } from '../../build/arbitrary-plan';
import { create, event, planWith, property } from '../../build/plan';

const after = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
const says = (plan: Plan, edits: readonly (Edit | undefined)[]): string | undefined => {
  const own = edits.filter((e) => e !== undefined);
  return refusedBy(plan, after(plan, own), own)?.says;
};

const NAMES = planWith([
  create('source', 'web', { name: 'Web' }),
  property('size', { name: 'size' }),
  create('sharedSet', 'common', { name: 'Common', properties: [{ propertyId: 'size', required: false }] }),
  event('a', { name: 'Door Opened', formerNames: ['Door Moved'], sources: [{ sourceId: 'web', required: true, build: 'built' }], properties: [{ propertyId: 'size', required: true }], sharedSets: ['common'] }), // prettier-ignore
  event('b', { name: 'Door Shut' }),
  event('c', { name: 'Gate Shut', retired: true }),
  create('definition', 'd', { name: 'Any Door' }),
  create('definition', 'e', { name: 'Any Gate' }),
  create('userProperty', 'u', { name: 'tier', registered: true, registeredAt: 5 }),
  create('userProperty', 'v', { name: 'plan', sources: ['web'] }),
  create('identifierKind', 'k', { name: 'desk' }),
]);

test('a name that another one has, or had, is refused, and it is said which', () => {
  expect(says(NAMES, renameEvent(NAMES, 'b', 'Door Opened', true))).toBe('There is an event “Door Opened” already. Choose another name.');
  expect(says(NAMES, renameEvent(NAMES, 'b', 'Gate Shut', true))).toContain('retired: bring that one back');
  expect(says(NAMES, renameEvent(NAMES, 'b', 'Door Moved', true))).toContain('is a former name of “Door Opened”');
  expect(says(NAMES, [event('z', { name: 'Door Shut' })])).toContain('There is an event “Door Shut” already');
  expect(says(NAMES, [setField(NAMES, 'definition', 'e', 'name', 'Any Door')])).toContain('There is a definition “Any Door” already');
  expect(says(NAMES, [create('identifierKind', 'l', { name: 'desk' })])).toContain('There is an identifier kind “desk” already');
  expect(says(NAMES, [create('sharedSet', 'l', { name: 'Common' })])).toContain('There is a shared set “Common” already');
  expect(says(NAMES, [create('source', 'l', { name: 'Web' })])).toContain('There is a source “Web” already');
  // Both at once, as a plan from elsewhere has them; and where the former name goes in the same change.
  expect(says(NAMES, [event('y', { name: 'Y', formerNames: ['X'] }), event('z', { name: 'X' })])).toBeUndefined();
  expect(says(NAMES, [setField(NAMES, 'event', 'a', 'formerNames', []), ...renameEvent(NAMES, 'b', 'Door Moved', true)])).toBeUndefined();
  // A definition may unite what arrives under its own name; a new row has none; what is its own former name may come back.
  expect(says(NAMES, [setField(NAMES, 'definition', 'e', 'name', 'Door Opened')])).toBeUndefined();
  expect(says(NAMES, [event('y', { name: '' }), event('z', { name: '' })])).toBeUndefined();
  expect(says(NAMES, renameEvent(NAMES, 'a', 'Door Moved', true))).toBeUndefined();
  expect(says(NAMES, renameEvent(NAMES, 'b', 'Door Locked', true))).toBeUndefined();
});

test('renamed onto another and back, no question of the other is taken along', () => {
  // Two names change places only by way of a third.
  const swap = [...renameEvent(NAMES, 'b', 'Door Opened', false)];
  expect(says(NAMES, swap)).toBeDefined();
  const first = renameEvent(NAMES, 'b', 'Other', false);
  const then = renameEvent(after(NAMES, first), 'a', 'Door Shut', false);
  expect(says(NAMES, [...first, ...then])).toBeUndefined();
});

test('what is registered stays so under its name, by undoing too', () => {
  const register = [setField(NAMES, 'userProperty', 'v', 'registered', true)!, setField(NAMES, 'userProperty', 'v', 'registeredAt', 7)!];
  const registered = after(NAMES, register);
  expect(says(NAMES, register)).toBeUndefined();
  const undone = invertAll(register);
  expect(refusedBy(registered, after(registered, undone), undone)).toMatchObject({ kind: 'userProperty', id: 'v', field: 'registered' });
  expect(says(NAMES, [setField(NAMES, 'userProperty', 'u', 'name', 'level')])).toContain('its name is locked');
  expect(says(NAMES, [setField(NAMES, 'userProperty', 'u', 'within', ['account'])])).toContain('its name is locked');
  expect(says(NAMES, [setField(NAMES, 'userProperty', 'u', 'temporary', true)])).toContain('is marked temporary');
  expect(says(NAMES, removalOf(NAMES, 'userProperty', 'u'))).toContain('retire it instead');
  // Another name makes a new one; never the same one twice.
  const renamed = renameUserProperty(NAMES, 'u', 'level', () => 'new');
  expect(says(NAMES, renamed)).toBeUndefined();
  const again = renameUserProperty(NAMES, 'u', 'level', () => 'newer');
  expect(says(after(NAMES, renamed), again.slice(0, 1))).toContain('There is a user property “level” already');
  expect(
    says(
      NAMES,
      renameUserProperty(NAMES, 'v', 'tier', () => 'new'),
    ),
  ).toContain('There is a user property “tier” already');
});

test('a limit is not gone over; a plan that is over it can be edited, and come down', () => {
  const tight = planWith(
    [
      event('a', { name: 'A', conversion: true }),
      event('b', { name: 'B', conversion: true }),
      create('userProperty', 'u', { name: 'u', registered: true }),
      create('userProperty', 'v', { name: 'v' }),
      create('userProperty', 't', { name: 't', temporary: true }),
      create('definition', 'd', { name: 'D' }),
    ],
    { limits: { ...DEFAULT_SETTINGS.limits, conversions: 2, userProperties: 1 } },
  );
  const third = says(tight, [event('c', { name: 'C', conversion: true })]);
  expect(third).toBe('The limits profile allows 2 conversion events, and this would make 3: take the mark off another one first.');
  expect(says(tight, [setField(tight, 'definition', 'd', 'conversion', true)])).toBe(third);
  expect(says(tight, [setField(tight, 'userProperty', 'v', 'registered', true)])).toContain('allows 1 registered user properties');
  const less = setField(tight, 'settings', SETTINGS_ID, 'limits', { ...settingsOf(tight).limits, conversions: 0, userProperties: 0 })!;
  expect(says(tight, [less])).toBeUndefined();
  const over = after(tight, [less]);
  expect(says(over, [setField(over, 'event', 'a', 'name', 'Another')])).toBeUndefined();
  expect(says(over, [setField(over, 'event', 'a', 'conversion', false)])).toBeUndefined();
  expect(says(over, [setField(over, 'event', 'a', 'conversion', false), event('c', { name: 'C', conversion: true })])).toBeUndefined();
});

test('nothing refers to what is not there', () => {
  const without = (kind: 'source' | 'property' | 'sharedSet', id: string): Edit[] => removalOf(NAMES, kind, id).slice(-1);
  expect(says(NAMES, without('property', 'size'))).toContain('still refers to the property “size”, which would be removed');
  expect(says(NAMES, without('source', 'web'))).toContain('“Door Opened” still refers to the source “Web”');
  expect(says(NAMES, without('sharedSet', 'common'))).toContain('shared set “Common”');
  expect(says(NAMES, [event('z', { name: 'Z', properties: [{ propertyId: 'nowhere', required: true }] })])).toBe('“Z” would refer to the property “nowhere”, which is not in the plan.'); // prettier-ignore
  expect(says(NAMES, [create('userProperty', 'z', { name: 'z', sources: ['nowhere'] })])).toContain('“nowhere”');
  // Both in one change, in whichever order.
  expect(says(NAMES, [event('z', { name: 'Z', sharedSets: ['s'] }), create('sharedSet', 's', { name: 'S' })])).toBeUndefined();
  // What was lost before can be edited, and put right.
  const broken = after(NAMES, without('property', 'size'));
  expect(says(broken, [setField(broken, 'event', 'a', 'properties', [...broken.event['a']!.properties])].filter(Boolean))).toBeUndefined();
  expect(says(broken, [setField(broken, 'event', 'a', 'sources', [])])).toBeUndefined();
});

test('removing anything by its own edits is never against the rules, in plans drawn at random, and neither is undoing it', () => {
  fc.assert(
    fc.property(arbitraryPlan, (plan) => {
      for (const kind of KINDS)
        for (const [id, body] of entries(plan, kind)) {
          if (kind === 'settings' || (kind === 'userProperty' && 'registered' in body && body.registered)) continue;
          const edits = removalOf(plan, kind, id);
          const next = after(plan, edits);
          expect([kind, id, refusedBy(plan, next, edits)?.says]).toEqual([kind, id, undefined]);
          const back = invertAll(edits);
          // Where the plan had a name twice before, what is removed cannot come back under it.
          const twice = entries(plan, kind).filter(([, b]) => 'name' in b && 'name' in body && b.name === body.name).length > 1;
          if (!twice && refusedBy(next, after(next, back), back)?.field !== 'name')
            expect(refusedBy(next, after(next, back), back)).toBeUndefined();
        }
    }),
    { seed: 28, numRuns: 60 },
  );
});

test('only edits that may matter are looked at', () => {
  expect(mayBeRefused(setField(NAMES, 'event', 'a', 'trigger', 'It opens.')!)).toBe(false);
  expect(mayBeRefused(setField(NAMES, 'event', 'a', 'name', 'X')!)).toBe(true);
  expect(mayBeRefused(event('z', {}))).toBe(true);
});
