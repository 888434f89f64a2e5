/** Rules of identity drawn at random, over a few identifiers that often meet. */
import fc from 'fast-check';

/** Values of any kind; the last is a placeholder. */
export const ID_VALUES = ['x1', 'x2', 'x3', 'x4', 'x5', 'null'];

/** Guards and switches of rules for identifiers of these kinds. */
export const arbitraryRules = (kinds: readonly string[]) => {
  const end = fc.record({ kind: fc.constantFrom(...kinds), value: fc.constantFrom(...ID_VALUES) });
  return fc.record({
    maxUserIds: fc.constantFrom(0, 1, 2),
    sharedDeviceUsers: fc.constantFrom(0, 1, 2),
    placeholderGuard: fc.boolean(),
    linking: fc.boolean(),
    blocked: fc.subarray(['x4', 'x5']),
    cuts: fc.array(fc.record({ a: end, b: end, reason: fc.constant('') }), { maxLength: 2 }),
    signOutEvents: fc.constantFrom([], ['Out']),
  });
};
