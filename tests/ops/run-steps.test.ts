/** The steps of a run: two at a time, each after what it needs; what cannot run is a failure. And which tests a change reaches. */
import { expect, test } from 'vitest';
import { testsReached } from '../../ops/related';
import { runSteps } from '../../ops/test';
import { gate, until } from '../build/wait';

const passed = { passed: 1, failed: 0 };

test('two take a place at a time, one that takes none runs beside them, and each begins when what it needs has passed', async () => {
  const gates = { a: gate(), b: gate(), free: gate() };
  const begun: string[] = [];
  const step = (name: string, more: object = {}) => ({ name, work: async () => (begun.push(name), passed), ...more });
  const waits = (name: keyof typeof gates, more: object = {}) => ({
    name,
    work: async () => {
      begun.push(name);
      await gates[name].opened;
      return passed;
    },
    ...more,
  });
  const told: string[] = [];
  const run = runSteps([waits('free', { free: true }), waits('a'), waits('b'), step('c'), step('d', { after: ['a', 'free', 'not asked for'] })], (s) => told.push(s.name)); // prettier-ignore
  await until('beginning', () => begun.length === 3);
  expect(begun).toEqual(['free', 'a', 'b']);
  gates.a.open();
  await until('the next', () => told.includes('c'));
  expect(told).toEqual(['a', 'c']);
  gates.free.open();
  await until('what needed both', () => told.includes('d'));
  gates.b.open();
  await run;
  expect(told.slice().sort()).toEqual(['a', 'b', 'c', 'd', 'free']);
});

test('one that throws has failed with what it threw; what comes after it did not run, and that is a failure', async () => {
  const told: [string, number, string][] = [];
  const all = [
    { name: 'a', work: () => Promise.reject(new Error('no disk')) },
    { name: 'b', after: ['a'], work: () => Promise.resolve(passed) },
  ];
  await runSteps(all, (s, t) => told.push([s.name, t.failed, t.why?.[0] ?? '']));
  expect(told).toEqual([['a', 1, expect.stringContaining('no disk')], ['b', 1, 'b did not run, since a failed.']]); // prettier-ignore
});

test('a change reaches the tests that import it, through others too, nearest first', () => {
  const files: Record<string, string> = {
    'src/a.ts': '',
    'src/b.ts': `import { a } from './a';`,
    'src/c/index.ts': `export type { b } from '../b';`,
    'tests/a.test.ts': `import '../src/a.ts'; import 'a-package';`,
    'tests/far.test.ts': `const c = await import('../src/c');`,
    'tests/other.test.ts': `import x from '../src/gone';`,
  };
  const reached = (...changed: string[]) => testsReached(changed, Object.keys(files), (f) => files[f]!);
  expect(reached('src/a.ts')).toEqual([['tests/a.test.ts', 1], ['tests/far.test.ts', 3]]); // prettier-ignore
  expect(reached('tests/other.test.ts')).toEqual([['tests/other.test.ts', 0]]);
  expect(reached('README.md')).toEqual([]);
});
