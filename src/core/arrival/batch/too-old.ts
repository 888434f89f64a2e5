import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface TooOld {
  readonly limitMs: number;
  /** How old the oldest was. */
  readonly oldestMs: number;
}

/** What waited longer on a device than this has nothing to say about the days that are looked at. */
const LIMIT_MS = 90 * 86_400_000;
const LEAST = 3;

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
    const time = table.time.raw;
    const received = table.received.raw;
    const causes = new CausesBySource(table);
    const oldest = new Map<number, number>();
    for (let row = 0; row < table.length; row++) {
      const by = received[row]! - time[row]!;
      if (by <= LIMIT_MS) continue;
      const source = table.source.get(row);
      causes.of(row).add(row);
      oldest.set(source, Math.max(by, oldest.get(source) ?? 0));
    }
    if (causes.bySource.size === 0) return out;
    for (let row = 0; row < table.length; row++) {
      const own = causes.bySource.get(table.source.get(row));
      if (own) own.of++;
    }
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
