import { usersPerNode } from '../../identity/node-facts';
import { entries } from '../../plan/plan';
import { HOUR_MS } from '../../time';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface SharedDevice {
  readonly kind: string;
  readonly devices: number;
  /** The most user IDs on one device within the window. */
  readonly users: number;
  readonly windowMs: number;
}

export const sharedDevice = defineManyCheck({
  id: 'shared-device',
  on: 'many',
  title: 'Shared device',
  why: 'If its identifier links, everybody who used it becomes one person.',
  example: { wrong: 'one device ID under which nine members signed in within an hour', right: 'one or two members for each device ID' },
  method:
    'For each identifier of a kind that identifies no person: the most user IDs that its messages carry within the time, in a window that is moved along.',
  severity: 'stop',
  shows: 'ids',
  parameters: {
    users: { title: 'Maximum user IDs on one device', unit: '', value: 3, min: 1, max: 1000, whole: true },
    window: { title: 'Within this time', unit: 'h', value: 24, min: 0.1, max: 8784 },
  },
  fixer: () => 'plan',
  expected: (p: SharedDevice) => `few user IDs under one ${p.kind} ID`,
  received: (p: SharedDevice) => `up to ${p.users} within ${roughSpan(p.windowMs)}`,
  message: (p: SharedDevice) =>
    `carry ${p.devices === 1 ? `a ${p.kind} ID` : `${p.devices} ${p.kind} IDs`} under which up to ${p.users} user IDs signed in within ${roughSpan(p.windowMs)}`,
  cause: () => 'A device in a public place signs people in one after another.',
  fix: (p: SharedDevice) => `Do not send the ${p.kind} ID from shared devices, or forbid that it links.`,
  *find({ plan, people: { table } }, { users: mostUsers, window }) {
    const windowMs = window * HOUR_MS;
    const out: ManyFound<SharedDevice>[] = [];
    const user = table.ids.get(table.userKind);
    if (!user) return;
    const everybody = new Uint8Array(table.nodes.length).fill(1);
    for (const [, kind] of entries(plan, 'identifierKind')) {
      const column = kind.identifies === 'person' ? undefined : table.ids.get(kind.name);
      if (!column) continue;
      yield;
      // Only those with several user IDs at all are looked at.
      const several = new Uint8Array(table.nodes.length);
      for (const [node, users] of usersPerNode(table, everybody)) if (users.size > mostUsers) several[node] = 1;
      const byDevice = new Map<number, { row: number; user: number }[]>();
      for (let row = 0; row < table.length; row++) {
        const d = column.get(row);
        if (d < 0 || several[d] === 0) continue;
        const u = user.get(row);
        if (u < 0) continue;
        const list = byDevice.get(d);
        if (list) list.push({ row, user: u });
        else byDevice.set(d, [{ row, user: u }]);
      }
      yield;
      const causes = new CausesBySource(table);
      const devices = new Map<number, Set<number>>();
      let max = 0;
      for (const [d, list] of byDevice) {
        list.sort((a, b) => table.time.get(a.row) - table.time.get(b.row));
        const users = mostWithin(
          list.map((x) => ({ at: table.time.get(x.row), user: x.user })),
          windowMs,
        );
        if (users <= mostUsers) continue;
        max = Math.max(max, users);
        yield;
        for (const { row } of list) {
          causes.of(row).add(row);
          const source = table.source.get(row);
          devices.set(source, (devices.get(source) ?? new Set<number>()).add(d));
        }
      }
      yield;
      causes.ofAll();
      for (const found of causes.found())
        out.push({
          params: { kind: kind.name, devices: devices.get(table.sources.find(found.sourceId))!.size, users: max, windowMs },
          eventName: '',
          field: `ids.${kind.name}`,
          ...found,
        });
    }
    yield* out;
  },
});

/** The most distinct users within a window; the list is by time. */
const mostWithin = (list: readonly { at: number; user: number }[], windowMs: number): number => {
  const counts = new Map<number, number>();
  let max = 0;
  let from = 0;
  for (const { at, user } of list) {
    counts.set(user, (counts.get(user) ?? 0) + 1);
    for (; list[from]!.at < at - windowMs; from++) {
      const u = list[from]!.user;
      const left = counts.get(u)! - 1;
      if (left === 0) counts.delete(u);
      else counts.set(u, left);
    }
    max = Math.max(max, counts.size);
  }
  return max;
};
