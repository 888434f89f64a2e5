/** Since when a signal is what it is: against a reading of each instant. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { SIGNALS } from '../../../src/core/clearance/gate';
import { sinceOf, type NotedSignals } from '../../../src/core/clearance/since';

const noted = (at: number, signal: NotedSignals['signal'], complete: NotedSignals['signal'] = signal): NotedSignals => ({
  at,
  signal,
  gates: { complete: { signal: complete }, fresh: { signal: 'clear' } },
});

test('the question and each gate have their own; what was never otherwise is so at least since it is followed', () => {
  const all = [noted(10, 'clear'), noted(20, 'stop', 'clear'), noted(30, 'stop', 'stop')];
  expect(sinceOf(all, all[2]!)).toEqual({
    signal: { at: 20, atLeast: false },
    gates: { complete: { at: 30, atLeast: false }, fresh: { at: 10, atLeast: true } },
  });
  // What is so only now was not noted yet.
  expect(sinceOf(all, noted(40, 'caution'))).toEqual({ signal: undefined, gates: { fresh: { at: 10, atLeast: true } } });
  expect(sinceOf([], noted(1, 'clear'))).toEqual({ signal: undefined, gates: {} });
});

test('at every instant from then on it was so, and just before it was not, or nothing is known', () => {
  const drawn = fc.array(fc.record({ signal: fc.constantFrom(...SIGNALS), complete: fc.constantFrom(...SIGNALS) }), { maxLength: 12 });
  fc.assert(
    fc.property(drawn, fc.constantFrom(...SIGNALS), (list, signal) => {
      const all = list.map((n, i) => noted(i * 10, n.signal, n.complete));
      const at = (t: number): string | undefined => all.findLast((n) => n.at <= t)?.signal;
      const since = sinceOf(all, noted(1000, signal)).signal;
      if (!since) {
        expect(at(1000)).not.toBe(signal);
        return;
      }
      for (let t = since.at; t <= 1000; t += 5) expect(at(t)).toBe(signal);
      expect(at(since.at - 1)).not.toBe(signal);
      expect(since.atLeast).toBe(at(since.at - 1) === undefined);
    }),
  );
});
