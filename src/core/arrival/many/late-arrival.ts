import { entries } from '../../plan/plan';
import { quantileOfCounts } from '../../stats/quantile';
import { following } from '../../table/following';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface LateArrival {
  readonly expectedMs: number;
  readonly p95Ms: number;
}

const QUANTILE = 0.95;

/** How many messages of a source came, and how many of them later than a limit. The key is both: `[source, limit in ms]`. */
const lateOf = following(
  () => ({ messages: 0, late: 0 }),
  (state, table, from, to, key) => {
    const [source, limitMs] = JSON.parse(key) as [number, number];
    for (let row = from; row < to; row++) {
      if (table.source.get(row) !== source) continue;
      state.messages++;
      if (table.received.get(row) - table.time.get(row) > limitMs) state.late++;
    }
  },
);

export const lateArrival = defineManyCheck({
  id: 'late-arrival',
  on: 'many',
  title: 'Later than expected',
  why: 'The newest days look too low until the late ones are in.',
  example: {
    wrong: 'a phone app that was expected within 10 minutes, with one in twenty messages after a day',
    right: 'one in twenty messages after more than 8 minutes',
  },
  method:
    'Receipt less the time of the message, for all of a source that has an expected lag; told where the value below which 95 of 100 lie is above the multiple of the expectation. Source: quantile of order 0.95, linear between neighbours (Hyndman and Fan, type 7).',
  severity: 'note',
  shows: 'times',
  parameters: {
    times: { title: 'Times the expected lag to report', unit: '', value: 2, min: 1, max: 1000 },
    min: { title: 'Minimum messages of a source to judge', unit: 'messages', value: 100, min: 20, max: 1000000, whole: true },
  },
  fixer: () => 'source',
  expected: (p: LateArrival) => `nineteen of twenty within ${roughSpan(p.expectedMs)}`,
  received: (p: LateArrival) => `within ${roughSpan(p.p95Ms)}`,
  message: (p: LateArrival) =>
    `need longer than expected: one in twenty arrives more than ${roughSpan(p.p95Ms)} after it happened, where ${roughSpan(p.expectedMs)} was expected`,
  cause: () => 'Messages wait on the device, or in a queue.',
  fix: () => 'Send sooner, or raise the expected lag of the source, so that figures wait for it.',
  find({ plan, people: { table } }, { times, min }) {
    const out: ManyFound<LateArrival>[] = [];
    const time = table.time.raw;
    const { received } = table;
    for (const [sourceId, source] of entries(plan, 'source')) {
      const index = table.sources.find(sourceId);
      if (index < 0 || source.expectedLagMs <= 0) continue;
      const { messages, late } = lateOf(table, JSON.stringify([index, times * source.expectedLagMs]));
      // So few are late that the value below which 95 of 100 lie is not among them.
      if (messages < min || late <= messages - 2 - Math.floor((messages - 1) * QUANTILE)) continue;
      const lags: number[] = [];
      for (let row = 0; row < table.length; row++) if (table.source.get(row) === index) lags.push(received.get(row) - time[row]!);
      const p95Ms = quantileOfCounts(
        lags.sort((a, b) => a - b),
        new Uint8Array(lags.length).fill(1),
        QUANTILE,
      )!;
      if (p95Ms <= times * source.expectedLagMs) continue;
      const causes = new CausesBySource(table);
      for (let row = 0; row < table.length; row++) {
        if (table.source.get(row) !== index) continue;
        const own = causes.of(row);
        own.outOf++;
        if (received.get(row) - time[row]! > source.expectedLagMs) own.add(row);
      }
      for (const found of causes.found())
        out.push({ params: { expectedMs: source.expectedLagMs, p95Ms }, eventName: '', field: '', ...found });
    }
    return out;
  },
});
