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
  severity: 'note',
  shows: 'times',
  parameters: {
    times: { title: 'Times the expected lag from which it is late', unit: '', value: 2, least: 1, most: 1000 },
    least: { title: 'Messages of a source that it takes to judge', unit: 'messages', value: 100, least: 20, most: 1000000, whole: true },
  },
  mender: () => 'source',
  expected: (p: LateArrival) => `nineteen of twenty within ${roughSpan(p.expectedMs)}`,
  received: (p: LateArrival) => `within ${roughSpan(p.p95Ms)}`,
  message: (p: LateArrival) =>
    `need longer than expected: one in twenty arrives more than ${roughSpan(p.p95Ms)} after it happened, where ${roughSpan(p.expectedMs)} was expected`,
  cause: () => 'Messages wait on the device, or in a queue.',
  mend: () => 'Send sooner, or raise the expected lag of the source, so that figures wait for it.',
  find({ plan, people: { table } }, { times, least }) {
    const out: ManyFound<LateArrival>[] = [];
    const time = table.time.raw;
    const received = table.received.raw;
    for (const [sourceId, source] of entries(plan, 'source')) {
      const index = table.sources.find(sourceId);
      if (index < 0 || source.expectedLagMs <= 0) continue;
      const { messages, late } = lateOf(table, JSON.stringify([index, times * source.expectedLagMs]));
      // So few are late that the value below which 95 of 100 lie is not among them.
      if (messages < least || late <= messages - 2 - Math.floor((messages - 1) * QUANTILE)) continue;
      const lags: number[] = [];
      for (let row = 0; row < table.length; row++) if (table.source.get(row) === index) lags.push(received[row]! - time[row]!);
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
        own.of++;
        if (received[row]! - time[row]! > source.expectedLagMs) own.add(row);
      }
      for (const found of causes.found())
        out.push({ params: { expectedMs: source.expectedLagMs, p95Ms }, eventName: '', field: '', ...found });
    }
    return out;
  },
});
