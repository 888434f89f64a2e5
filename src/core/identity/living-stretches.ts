/** Whose the messages of devices with several user IDs are, followed as they come: what happened after all that a device sent needs no look back. */
import type { MessageTable } from '../table/message-table';
import type { PersonRules } from './person-rules';
import { BEFORE, devicesInOrder, rowsOfDevices, stretcher, type Standing } from './stretches';

interface Device {
  /** In the order in which they happened. */
  rows: number[];
  /** Came since. */
  fresh: number[];
  standing: Standing;
}

export class LivingStretches {
  private devices = new Map<number, Device>();
  /** Devices of which a message carries two: whose such messages are hangs on both. */
  private readonly beside = new Set<number>();
  private readonly touched = new Set<number>();

  constructor(
    private readonly table: MessageTable,
    private readonly rules: PersonRules,
  ) {}

  has(node: number): boolean {
    return this.devices.has(node);
  }

  /** Attributes all messages of these devices from the beginning. Changes `personOfMessage`, which has the person of each by what it carries alone. */
  begin(several: Iterable<number>, shared: ReadonlySet<number>, personOfNode: Int32Array, personOfMessage: Int32Array): void {
    const { table } = this;
    const rowsOf = rowsOfDevices(table, several);
    this.devices = new Map();
    this.beside.clear();
    this.touched.clear();
    const { sort, follow } = stretcher(table, this.rules);
    const firstOf = new Int32Array(rowsOf.size > 1 ? table.length : 0).fill(-1);
    for (const [node, rows] of devicesInOrder(table, rowsOf)) {
      for (const row of rows) {
        const first = firstOf[row] ?? -1;
        if (first >= 0) this.beside.add(first).add(node);
        else firstOf[row] = node;
      }
      const standing = follow(sort(rows), BEFORE, shared.has(node), personOfNode, (row, person) => (personOfMessage[row] = person));
      this.devices.set(node, { rows, fresh: [], standing });
    }
  }

  /** Notes a message of these devices, rows ascending. Whether it can be followed: a message of two of them cannot. */
  note(row: number, nodes: readonly number[]): boolean {
    const [node] = nodes;
    if (node === undefined) return true;
    if (nodes.length > 1 || this.beside.has(node)) return false;
    this.devices.get(node)!.fresh.push(row);
    this.touched.add(node);
    return true;
  }

  /** Whose the messages are that are not whose they are known to be, after what was noted.
   *  Shape: row → person. `known` has the persons of the rows of before, and of those that were noted by what they carry, as `byIdentifiers` says it of one.
   */
  changes(
    shared: ReadonlySet<number>,
    personOfNode: Int32Array,
    known: Int32Array,
    byIdentifiers: (row: number) => number,
  ): ReadonlyMap<number, number> {
    const changed = new Map<number, number>();
    if (this.touched.size === 0) return changed;
    const { sort, follow } = stretcher(this.table, this.rules);
    const time = this.table.time.raw;
    for (const node of this.touched) {
      const device = this.devices.get(node)!;
      const fresh = sort(device.fresh);
      const isAfter = time[fresh[0]!]! > device.standing.at;
      const said = new Map<number, number>();
      const all = isAfter ? fresh : sort([...device.rows, ...fresh]);
      device.standing = follow(all, isAfter ? device.standing : BEFORE, shared.has(node), personOfNode, (row, person) =>
        said.set(row, person),
      );
      if (isAfter) for (const row of fresh) device.rows.push(row);
      else device.rows = all;
      device.fresh = [];
      for (const row of all) {
        const person = said.get(row) ?? byIdentifiers(row);
        if (known[row] !== person) changed.set(row, person);
      }
    }
    this.touched.clear();
    return changed;
  }
}
