import { following } from '../../table/following';
import { IMPLAUSIBLE_AHEAD_MS, IMPLAUSIBLE_BEHIND_MS } from '../../table/plausible';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface ImplausibleTime {
  /** How far the one that is farthest out lies before its receipt; negative for after it. */
  readonly beforeMs: number;
  readonly messages: number;
}

const rows = following<number[]>(
  () => [],
  (state, { time, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const by = received.get(row) - time.get(row);
      if (by > IMPLAUSIBLE_BEHIND_MS || -by > IMPLAUSIBLE_AHEAD_MS) state.push(row);
    }
  },
);

export const implausibleTime = defineManyCheck({
  id: 'implausible-time',
  on: 'many',
  title: 'Implausible date',
  why: 'A message dated years away is missing from the period where it belongs.',
  example: { wrong: '`"time": "1970-01-01T00:00:00Z"`', right: 'the time at which it happened' },
  method:
    'One such message is enough. What lies within a year before its receipt, and within 26 hours after it, is left to the checks of clocks and lag. Source: common practice.',
  severity: 'caution',
  shows: 'times',
  fixer: () => 'source',
  expected: () => 'a time near that of receipt',
  received: (p: ImplausibleTime) => datedText(p),
  message: (p: ImplausibleTime) =>
    p.messages === 1
      ? `include one ${datedText(p)}`
      : `include ${p.messages.toLocaleString('en-GB')} with a date that cannot be, one of them ${datedText(p)}`,
  cause: (p: ImplausibleTime) =>
    p.beforeMs > 0
      ? 'The clock of the device was never set or was reset, or a field other than the time was sent.'
      : 'The clock of the device is set to another year, or a planned time was sent instead of when it happened.',
  fix: () =>
    'Set the clock by a time server, or take the time of receipt. Figures leave out what lies outside their periods, and say how many.',
  find({ people: { table } }) {
    const out: ManyFound<ImplausibleTime>[] = [];
    for (const [field, isOf] of [
      ['past', (by: number) => by > 0],
      ['future', (by: number) => by < 0],
    ] as const) {
      const causes = new CausesBySource(table);
      const farthest = new Map<number, number>();
      // By receipt: its own time says nothing of when it was found.
      const span = new Map<number, { firstAt: number; lastAt: number }>();
      for (const row of rows(table)) {
        const by = table.received.get(row) - table.time.get(row);
        if (!isOf(by)) continue;
        const source = table.source.get(row);
        causes.of(row).add(row);
        if (Math.abs(by) > Math.abs(farthest.get(source) ?? 0)) farthest.set(source, by);
        const at = table.received.get(row);
        const known = span.get(source);
        if (!known) span.set(source, { firstAt: at, lastAt: at });
        else {
          known.firstAt = Math.min(known.firstAt, at);
          known.lastAt = Math.max(known.lastAt, at);
        }
      }
      causes.ofAll();
      for (const found of causes.found()) {
        const source = table.sources.find(found.sourceId);
        out.push({
          params: { beforeMs: farthest.get(source)!, messages: found.count },
          eventName: '',
          field,
          ...found,
          ...span.get(source)!,
        });
      }
    }
    return out;
  },
});

const datedText = ({ beforeMs }: ImplausibleTime): string =>
  beforeMs > 0 ? `dated ${roughSpan(beforeMs)} before it was received` : `dated ${roughSpan(-beforeMs)} after it was received`;
