import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isStale, isTyped, kept, NOTHING_TYPED, shownOf, typing, type Typed } from '../../src/ui/commit-model';

test('while nothing is typed the field follows the value, wherever that comes from', () => {
  expect(shownOf(NOTHING_TYPED, 'a')).toEqual({ text: 'a', problem: undefined });
  expect(shownOf(NOTHING_TYPED, 'b')).toEqual({ text: 'b', problem: undefined });
});

test('what is kept is saved once; what is the same is not saved', () => {
  const saved: string[] = [];
  const save = (t: string): undefined => void saved.push(t);
  const typed = typing(NOTHING_TYPED, 'a', 'b');
  expect(kept(typed, 'a', 'enter', save)).toBe(NOTHING_TYPED);
  expect(kept(typing(NOTHING_TYPED, 'a', 'a'), 'a', 'leaving', save)).toBe(NOTHING_TYPED);
  expect(kept(NOTHING_TYPED, 'a', 'leaving', save)).toBe(NOTHING_TYPED);
  expect(saved).toEqual(['b']);
});

test('what is wrong is said, stays in the field, and is forgotten with the next letter', () => {
  const wrong = kept(typing(NOTHING_TYPED, '3', 'x'), '3', 'leaving', () => 'A whole number.');
  expect(shownOf(wrong, '3')).toEqual({ text: 'x', problem: 'A whole number.' });
  expect(shownOf(typing(wrong, '3', '4'), '3')).toEqual({ text: '4', problem: undefined });
});

test('a value that changed elsewhere is said; leaving overwrites nothing, Enter does', () => {
  const typed = typing(NOTHING_TYPED, 'a', 'mine');
  expect(isStale(typed, 'theirs')).toBe(true);
  expect(shownOf(typed, 'theirs')).toEqual({
    text: 'mine',
    problem: 'Changed elsewhere to “theirs”. Enter keeps yours, Escape takes theirs.',
  });
  const refuse = (): never => {
    throw new Error('saved');
  };
  expect(kept(typed, 'theirs', 'leaving', refuse)).toBe(typed);
  const saved: string[] = [];
  expect(kept(typed, 'theirs', 'enter', (t) => void saved.push(t))).toBe(NOTHING_TYPED);
  expect(saved).toEqual(['mine']);
});

test('whatever is typed, changed elsewhere, left and kept: nothing is saved that was not typed, and leaving never overwrites another’s value', () => {
  const act = fc.oneof(
    fc.record({ act: fc.constant('type' as const), text: fc.constantFrom('a', 'b', 'c', '!') }),
    fc.record({ act: fc.constant('elsewhere' as const), text: fc.constantFrom('a', 'b', 'c') }),
    fc.record({ act: fc.constantFrom('enter' as const, 'leaving' as const), text: fc.constant('') }),
  );
  fc.assert(
    fc.property(fc.array(act, { maxLength: 20 }), (acts) => {
      let value = 'a';
      let typed: Typed = NOTHING_TYPED;
      /** The value that the person last saw before typing. */
      let seen: string | undefined;
      for (const { act: name, text } of acts) {
        if (name === 'type') {
          if (typed.text === undefined) seen = value;
          typed = typing(typed, value, text);
        } else if (name === 'elsewhere') value = text;
        else {
          const before = value;
          const was = typed.text;
          typed = kept(typed, value, name, (t) => {
            expect(t).toBe(was);
            if (t === '!') return 'not this';
            if (name === 'leaving') expect(before).toBe(seen);
            value = t;
            return undefined;
          });
          // What could not be kept was looked at together with the value of now.
          if (typed.problem !== undefined) seen = value;
        }
        const shown = shownOf(typed, value);
        expect(shown.text).toBe(typed.text ?? value);
        if (typed.text === undefined) expect(shown.problem).toBeUndefined();
      }
    }),
  );
});

test('what is again as it was is nothing typed: undoing is the plan’s then, and a change elsewhere is shown', () => {
  const typed = typing(NOTHING_TYPED, 'a', 'a!');
  expect([isTyped(NOTHING_TYPED, 'a'), isTyped(typed, 'a')]).toEqual([false, true]);
  const back = typing(typed, 'a', 'a');
  expect(back).toBe(NOTHING_TYPED);
  expect(shownOf(back, 'theirs')).toEqual({ text: 'theirs', problem: undefined });
  // Not where the value is another meanwhile: what is typed is still theirs against it.
  expect(typing(typed, 'theirs', 'a')).toEqual({ text: 'a', before: 'a', problem: undefined });
  expect(isTyped(typing(typed, 'theirs', 'theirs'), 'theirs')).toBe(false);
});
