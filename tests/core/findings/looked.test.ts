import { expect, test } from 'vitest';
import { lookedAt } from '../../../src/core/findings/looked';

test('all was looked at only where messages came, a version is published, its recheck is over, and the checks over many have looked', () => {
  const seen = new Map<string, string>();
  for (const messages of [0, 7])
    for (const manyAt of [null, 5])
      for (const isPublished of [false, true])
        for (const isRechecked of [false, true])
          seen.set(`${messages} ${manyAt} ${isPublished} ${isRechecked}`, lookedAt({ messages, manyAt }, { isPublished, isRechecked }));
  expect([...seen].filter(([, is]) => is === 'all').map(([of]) => of)).toEqual(['7 5 true true']);
  expect([...seen].filter(([, is]) => is === 'one by one').map(([of]) => of)).toEqual(['7 null true true']);
  expect([...seen].filter(([, is]) => is === 'being checked').map(([of]) => of)).toEqual(['7 null true false', '7 5 true false']);
  expect([...seen].filter(([, is]) => is === 'not checked')).toHaveLength(4);
  expect([...seen].filter(([, is]) => is === 'nothing arrived')).toHaveLength(8);
});
