import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { IMPLAUSIBLE_AHEAD_MS } from '../../table/plausible';
import { median } from '../../stats/robust';
import type { IndexColumn } from '../../table/column';
import type { MessageTable } from '../../table/message-table';
import { masked } from '../personal-data';
import { following } from '../../table/following';

export interface ClockAhead {
  /** The device whose clock it is; empty where several are. */
  readonly device: string;
  readonly aheadMs: number;
  /** Messages that this device sent in all; of the whole source where several are. */
  readonly messages: number;
}

/** The key is the tolerance in ms. */
const rowsAhead = following<number[]>(
  () => [],
  (rows, { time, received }, from, to, key) => {
    const toleranceMs = Number(key);
    for (let row = from; row < to; row++) {
      const by = time.get(row) - received.get(row);
      if (by > toleranceMs && by <= IMPLAUSIBLE_AHEAD_MS) rows.push(row);
    }
  },
);

interface Wrong {
  readonly rows: number;
  readonly ahead: Map<number, number>;
}
/** While nothing comes that is ahead, it stands. */
const wrongKnown = new WeakMap<readonly number[], Wrong>();

/** Rows that say they happened after they were received, and by how much their device, or their source where it has none, is ahead. Not to be changed. */
export const rowsOfWrongClocks = (table: MessageTable, toleranceMs: number): ReadonlyMap<number, number> => {
  const rows = rowsAhead(table, String(toleranceMs));
  const known = wrongKnown.get(rows);
  if (known?.rows === rows.length) return known.ahead;
  const device = table.ids.get('device');
  const devices = table.nodes.length + 1;
  const keyOf = (row: number): number => table.source.get(row) * devices + (device?.get(row) ?? -1) + 1;
  const byClock = new Map<number, number[]>();
  for (const row of rows) {
    const key = keyOf(row);
    const own = byClock.get(key);
    const by = table.time.get(row) - table.received.get(row);
    if (own) own.push(by);
    else byClock.set(key, [by]);
  }
  const of = new Map([...byClock].map(([key, all]) => [key, median(all)!]));
  const ahead = new Map(rows.map((row) => [row, of.get(keyOf(row))!]));
  wrongKnown.set(rows, { rows: rows.length, ahead });
  return ahead;
};

export const clockAhead = defineManyCheck({
  id: 'clock-ahead',
  on: 'many',
  title: 'Clock runs ahead',
  why: 'What is said to happen in the future falls on the wrong day, and comes after what followed it.',
  example: {
    wrong: 'a kiosk whose messages say that they happened 11 minutes after they were received',
    right: 'times that lie before their receipt, up to the tolerance of the workspace',
  },
  method:
    'Messages whose own time lies more than the tolerance after their receipt, by source; where one device sent them all, out of its messages, else out of those of the source. What lies more than 26 hours ahead is an implausible time instead. The span is the median.',
  severity: 'stop',
  shows: 'times',
  parameters: {
    tolerance: { title: 'Clock tolerance', unit: 'min', value: 5, min: 0, max: 1440 },
    min: { title: 'Minimum messages to report', unit: 'messages', value: 3, min: 1, max: 1000000, whole: true },
  },
  fixer: () => 'source',
  expected: () => 'a time before that of receipt',
  received: (p: ClockAhead) => `about ${roughSpan(p.aheadMs)} after it`,
  message: (p: ClockAhead) =>
    `say they happened about ${roughSpan(p.aheadMs)} after they were received${p.device === '' ? '' : `, all from the device \`${p.device}\``}`,
  cause: (p: ClockAhead) =>
    p.device === '' ? 'The clocks of several devices are wrong.' : 'The clock of this device is wrong, or set to another zone.',
  fix: () => 'Set the clock by a time server; until then, take the time of receipt.',
  find({ people: { table } }, { tolerance, min }) {
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
    for (const all of causes.found()) {
      if (all.count < min) continue;
      const source = table.sources.find(all.sourceId);
      const [only, ...others] = devices.get(source)!;
      // Of one device, what it sent is what it is a part of.
      const found = others.length === 0 && only! >= 0 ? { ...all, outOf: messagesOfNode(table, device!, only!, source) } : all;
      out.push({
        params: {
          device: others.length === 0 && only! >= 0 ? masked(table.nodes.valueOf(only!)) : '',
          aheadMs: median(ahead.get(source)!)!,
          messages: found.outOf,
        },
        eventName: '',
        field: '',
        ...found,
      });
    }
    return out;
  },
});

/** Messages of a source that carry an identifier. */
export const messagesOfNode = (table: MessageTable, ids: IndexColumn, node: number, source: number): number => {
  let n = 0;
  for (let row = 0; row < ids.length; row++) if (ids.get(row) === node && table.source.get(row) === source) n++;
  return n;
};
