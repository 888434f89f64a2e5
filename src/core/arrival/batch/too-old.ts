import { following } from '../../table/following';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface TooOld {
  readonly limitMs: number;
  /** How old the oldest was. */
  readonly oldestMs: number;
}

/** What waited longer on a device than this has nothing to say about the days that are looked at. */
const LIMIT_MS = 90 * 86_400_000;
const LEAST = 3;

const oldRows = following<number[]>(
  () => [],
  (rows, { time, received }, from, to) => {
    for (let row = from; row < to; row++) if (received.get(row) - time.get(row) > LIMIT_MS) rows.push(row);
  },
);

export const tooOld = defineManyCheck({
  id: 'too-old',
  on: 'many',
  title: 'Too old on arrival',
  why: 'It changes figures that were read and decided on long ago, or its clock is wrong.',
  severity: 'caution',
  message: (p: TooOld) =>
    `say they happened more than ${roughSpan(p.limitMs)} before they were received, the oldest ${roughSpan(p.oldestMs)}`,
  cause: () => 'The clock of a device stands still or was reset, or a source sends a history as if it were new.',
  mend: () => 'Set the clock by a time server; bring a history in as a file.',
  find({ table }) {
    const out: ManyFound<TooOld>[] = [];
    const causes = new CausesBySource(table);
    const oldest = new Map<number, number>();
    for (const row of oldRows(table)) {
      const by = table.received.get(row) - table.time.get(row);
      const source = table.source.get(row);
      causes.of(row).add(row);
      oldest.set(source, Math.max(by, oldest.get(source) ?? 0));
    }
    causes.ofAll();
    for (const found of causes.found())
      if (found.count >= LEAST)
        out.push({
          params: { limitMs: LIMIT_MS, oldestMs: oldest.get(table.sources.find(found.sourceId))! },
          eventName: '',
          field: '',
          ...found,
        });
    return out;
  },
});
