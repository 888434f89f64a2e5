import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { median } from '../../stats/robust';

export interface ClockAhead {
  /** The device whose clock it is; empty where several are. */
  readonly device: string;
  readonly aheadMs: number;
}

/** Clocks are never quite right. */
const TOLERANCE_MS = 5 * 60_000;
const LEAST = 3;

export const clockAhead = defineManyCheck({
  id: 'clock-ahead',
  on: 'many',
  title: 'Clock runs ahead',
  why: 'What is said to happen in the future falls on the wrong day, and comes after what followed it.',
  severity: 'stop',
  message: (p: ClockAhead) =>
    `say they happened about ${roughSpan(p.aheadMs)} after they were received${p.device === '' ? '' : `, all from the device \`${p.device}\``}`,
  cause: (p: ClockAhead) =>
    p.device === '' ? 'The clocks of several devices are wrong.' : 'The clock of this device is wrong, or set to another zone.',
  mend: () => 'Set the clock by a time server; until then, take the time of receipt.',
  find({ table }) {
    const out: ManyFound<ClockAhead>[] = [];
    const time = table.time.raw;
    const received = table.received.raw;
    const causes = new CausesBySource(table);
    const ahead = new Map<number, number[]>();
    const devices = new Map<number, Set<number>>();
    const device = table.ids.get('device');
    for (let row = 0; row < table.length; row++) {
      const by = time[row]! - received[row]!;
      if (by < TOLERANCE_MS) continue;
      const source = table.source.get(row);
      causes.of(row).add(row);
      ahead.set(source, [...(ahead.get(source) ?? []), by]);
      devices.set(source, (devices.get(source) ?? new Set<number>()).add(device?.get(row) ?? -1));
    }
    for (let row = 0; row < table.length; row++) {
      const own = causes.bySource.get(table.source.get(row));
      if (own) own.of++;
    }
    for (const found of causes.found()) {
      if (found.count < LEAST) continue;
      const source = table.sources.find(found.sourceId);
      const [only, ...others] = devices.get(source)!;
      out.push({
        params: { device: others.length === 0 && only! >= 0 ? table.nodes[only!]!.value : '', aheadMs: median(ahead.get(source)!)! },
        eventName: '',
        field: '',
        ...found,
      });
    }
    return out;
  },
});
