/** What a page knows of the age of what it shows: against a list of all that was noted. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { AnswerAges } from '../../src/client/answer-ages';

test('the oldest is that of all last answers of which none is of the newest; listeners hear of each change of it, and of nothing else', () => {
  const step = fc.oneof(
    fc.record({
      asked: fc.constantFrom('a', 'b', 'c'),
      age: fc.option(fc.integer({ min: 1, max: 90 })),
      ms: fc.integer({ min: 0, max: 5000 }),
    }),
    fc.record({ forget: fc.integer({ min: 0, max: 9000 }), ms: fc.constant(0) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      const ages = new AnswerAges();
      let heard = 0;
      const end = ages.subscribe(() => heard++);
      let noted: { asked: string; of: number; came: number }[] = [];
      let [now, changes, oldest] = [1_000_000, 0, undefined as number | undefined];
      for (const s of steps) {
        now += s.ms;
        if ('forget' in s) {
          ages.forgetBefore(now - s.forget);
          noted = noted.filter((n) => n.came >= now - s.forget);
        } else {
          ages.note(s.asked, s.age === null ? null : String(s.age), now);
          noted = noted.filter((n) => n.asked !== s.asked);
          if (s.age !== null) noted.push({ asked: s.asked, of: now - s.age * 1000, came: now });
        }
        const [first] = noted.map((n) => n.of).sort((a, b) => a - b);
        if (first !== oldest) changes++;
        oldest = first;
        expect([ages.oldest(), heard]).toEqual([oldest, changes]);
      }
      end();
      ages.note('z', '9999', now);
      expect(heard).toBe(changes);
    }),
  );
});

test('what is a second behind is asked for again after two, what is a minute behind after half of one, what is of the newest not at all', () => {
  const ages = new AnswerAges();
  expect(ages.againIn(0)).toBeUndefined();
  ages.note('a', '1', 0);
  expect(ages.againIn(0)).toBe(2000);
  ages.note('a', '9', 0);
  expect(ages.againIn(500)).toBe(9500);
  ages.note('b', '60', 0);
  expect(ages.againIn(0)).toBe(30_000);
  ages.note('b', null, 0);
  expect(ages.againIn(0)).toBe(9000);
});
