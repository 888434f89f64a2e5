import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { median } from '../../stats/robust';
import { following } from '../../table/following';

export interface ClockAhead {
  /** The device whose clock it is; empty where several are. */
  readonly device: string;
  readonly aheadMs: number;
}

/** The key is the tolerance in ms. */
const rowsAhead = following<number[]>(
  () => [],
  (rows, { time, received }, from, to, key) => {
    const toleranceMs = Number(key);
    for (let row = from; row < to; row++) if (time.get(row) - received.get(row) >= toleranceMs) rows.push(row);
  },
);

export const clockAhead = defineManyCheck({
  id: 'clock-ahead',
  on: 'many',
  title: 'Clock runs ahead',
  why: 'What is said to happen in the future falls on the wrong day, and comes after what followed it.',
  severity: 'stop',
  parameters: {
    tolerance: { title: 'How far clocks may be off', unit: 'min', value: 5, least: 0, most: 1440 },
    least: { title: 'So few are not worth a word', unit: 'messages', value: 3, least: 1, most: 1000000, whole: true },
  },
  mender: () => 'source',
  expected: () => 'a time before that of receipt',
  received: (p: ClockAhead) => `about ${roughSpan(p.aheadMs)} after it`,
  message: (p: ClockAhead) =>
    `say they happened about ${roughSpan(p.aheadMs)} after they were received${p.device === '' ? '' : `, all from the device \`${p.device}\``}`,
  cause: (p: ClockAhead) =>
    p.device === '' ? 'The clocks of several devices are wrong.' : 'The clock of this device is wrong, or set to another zone.',
  mend: () => 'Set the clock by a time server; until then, take the time of receipt.',
  find({ table }, { tolerance, least }) {
    const out: ManyFound<ClockAhead>[] = [];
    const causes = new CausesBySource(table);
    const ahead = new Map<number, number[]>();
    const devices = new Map<number, Set<number>>();
    const device = table.ids.get('device');
    for (const row of rowsAhead(table, String(tolerance * 60_000))) {
      const by = table.time.get(row) - table.received.get(row);
      const source = table.source.get(row);
      causes.of(row).add(row);
      const own = ahead.get(source);
      if (own) own.push(by);
      else ahead.set(source, [by]);
      devices.set(source, (devices.get(source) ?? new Set<number>()).add(device?.get(row) ?? -1));
    }
    causes.ofAll();
    for (const found of causes.found()) {
      if (found.count < least) continue;
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
