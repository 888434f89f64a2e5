import { following } from '../../table/following';
import { IMPLAUSIBLE_BEHIND_MS } from '../../table/plausible';
import { DAY_MS } from '../../time';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface TooOld {
  readonly limitMs: number;
  /** How old the oldest was. */
  readonly oldestMs: number;
}

/** The key is the limit in ms. */
const oldRows = following<number[]>(
  () => [],
  (rows, { time, received }, from, to, key) => {
    const limitMs = Number(key);
    for (let row = from; row < to; row++) {
      const by = received.get(row) - time.get(row);
      if (by > limitMs && by <= IMPLAUSIBLE_BEHIND_MS) rows.push(row);
    }
  },
);

export const tooOld = defineManyCheck({
  id: 'too-old',
  on: 'many',
  title: 'Too old on arrival',
  why: 'It changes figures that were read and decided on long ago, or its clock is wrong.',
  example: { wrong: 'messages that say they happened more than 90 days before they were received', right: 'messages of the last days' },
  method: 'Receipt less the time of the message, by source. What lies more than 366 days back is an implausible time instead.',
  severity: 'caution',
  shows: 'times',
  parameters: {
    limit: { title: 'Maximum age on arrival', unit: 'd', value: 90, min: 1, max: 3660 },
    min: { title: 'Minimum messages to report', unit: 'messages', value: 3, min: 1, max: 1000000, whole: true },
  },
  fixer: () => 'source',
  expected: (p: TooOld) => `at most ${roughSpan(p.limitMs)} old`,
  received: (p: TooOld) => `up to ${roughSpan(p.oldestMs)}`,
  message: (p: TooOld) =>
    `say they happened more than ${roughSpan(p.limitMs)} before they were received, the oldest ${roughSpan(p.oldestMs)}`,
  cause: () => 'The clock of a device is stuck or was reset, or a source sends history as if it were new.',
  fix: () => 'Set the clock by a time server; bring a history in as a file.',
  find({ people: { table } }, { limit, min }) {
    const limitMs = limit * DAY_MS;
    const out: ManyFound<TooOld>[] = [];
    const causes = new CausesBySource(table);
    const oldest = new Map<number, number>();
    for (const row of oldRows(table, String(limitMs))) {
      const by = table.received.get(row) - table.time.get(row);
      const source = table.source.get(row);
      causes.of(row).add(row);
      oldest.set(source, Math.max(by, oldest.get(source) ?? 0));
    }
    causes.ofAll();
    for (const found of causes.found())
      if (found.count >= min)
        out.push({
          params: { limitMs, oldestMs: oldest.get(table.sources.find(found.sourceId))! },
          eventName: '',
          field: '',
          ...found,
        });
    return out;
  },
});
