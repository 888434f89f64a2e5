import { following } from '../../table/following';
import { IMPLAUSIBLE_BEHIND_MS } from '../../table/plausible';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface TooOld {
  readonly limitMs: number;
  /** How old the oldest was. */
  readonly oldestMs: number;
}

const DAY_MS = 86_400_000;

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
  severity: 'caution',
  shows: 'times',
  parameters: {
    limit: { title: 'What waited longer says nothing about the days that are looked at', unit: 'd', value: 90, least: 1, most: 3660 },
    least: { title: 'So few are not worth a word', unit: 'messages', value: 3, least: 1, most: 1000000, whole: true },
  },
  mender: () => 'source',
  expected: (p: TooOld) => `at most ${roughSpan(p.limitMs)} old`,
  received: (p: TooOld) => `up to ${roughSpan(p.oldestMs)}`,
  message: (p: TooOld) =>
    `say they happened more than ${roughSpan(p.limitMs)} before they were received, the oldest ${roughSpan(p.oldestMs)}`,
  cause: () => 'The clock of a device stands still or was reset, or a source sends a history as if it were new.',
  mend: () => 'Set the clock by a time server; bring a history in as a file.',
  find({ people: { table } }, { limit, least }) {
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
      if (found.count >= least)
        out.push({
          params: { limitMs, oldestMs: oldest.get(table.sources.find(found.sourceId))! },
          eventName: '',
          field: '',
          ...found,
        });
    return out;
  },
});
