import { entries } from '../../plan/plan';
import { following } from '../../table/following';
import type { IndexColumn } from '../../table/column';
import type { MessageTable } from '../../table/message-table';
import { CausesBySource, defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { masked } from '../personal-data';
import { DAY_MS, MINUTE_MS } from '../../time';
import { messagesOfNode } from './clock-ahead';

export interface ClockBehind {
  /** The device whose clock it is; empty where several are. */
  readonly device: string;
  readonly behindMs: number;
  /** How long its messages have come: below a day a clock cannot be told from a queue. */
  readonly overMs: number;
  readonly state: 'fault' | 'too early';
}

/** Lags of what came under one identifier, and when it came, in ms. */
interface Lags {
  messages: number;
  min: number;
  max: number;
  firstReceived: number;
  lastReceived: number;
}

/** By the index of an identifier; the key is its kind. */
const lagsOf = following(
  () => new Map<number, Lags>(),
  (state, table, from, to, key) => {
    const ids = table.ids.get(key)!;
    for (let row = from; row < to; row++) {
      const node = ids.get(row);
      if (node < 0) continue;
      const received = table.received.get(row);
      const lag = received - table.time.get(row);
      const own = state.get(node);
      if (!own) {
        state.set(node, { messages: 1, min: lag, max: lag, firstReceived: received, lastReceived: received });
        continue;
      }
      own.messages++;
      if (lag < own.min) own.min = lag;
      if (lag > own.max) own.max = lag;
      if (received < own.firstReceived) own.firstReceived = received;
      if (received > own.lastReceived) own.lastReceived = received;
    }
  },
);

export const clockBehind = defineManyCheck({
  id: 'clock-behind',
  on: 'many',
  title: 'Clock runs behind',
  why: 'What happened falls on an earlier hour or day, and before what led to it.',
  example: {
    wrong: 'a device whose messages all come two hours late to the minute, live',
    right: 'delays of seconds that differ from message to message',
  },
  method:
    'Identifiers of devices, whose messages over a day or more came all by the same span after they say they happened. Source: own definition; a queue that is emptied now and then gives spans of many lengths.',
  severity: 'caution',
  shows: 'times',
  parameters: {
    tolerance: { title: 'Clock tolerance', unit: 'min', value: 5, min: 0.1, max: 1440 },
    spread: {
      title: 'Lags of a device that differ by no more are those of its clock, not of a queue',
      unit: 'min',
      value: 2,
      min: 0.1,
      max: 1440,
    },
    min: {
      title: 'Messages of a device, over at least a day, that it takes to judge',
      unit: 'messages',
      value: 5,
      min: 3,
      max: 1_000_000,
      whole: true,
    },
  },
  fixer: () => 'source',
  expected: () => 'a time just before that of receipt',
  received: (p: ClockBehind) => `always about ${roughSpan(p.behindMs)} before it`,
  message: (p: ClockBehind) =>
    `say they happened about ${roughSpan(p.behindMs)} before they were received, always by the same span${p.device === '' ? '' : `, all from the device \`${p.device}\``}${p.state === 'too early' ? `; it takes a day to tell a clock from a queue, and they have come for ${roughSpan(p.overMs)}` : ''}`,
  cause: (p: ClockBehind) =>
    p.device === ''
      ? 'The clocks of several devices are wrong: what waits in a queue is late by spans that differ.'
      : 'The clock of this device is wrong, or set to another zone: what waits in a queue is late by spans that differ.',
  fix: () => 'Set the clock by a time server; until then, take the time of receipt.',
  *find({ plan, people: { table } }, { tolerance, spread, min }) {
    const out: ManyFound<ClockBehind>[] = [];
    for (const [, kind] of entries(plan, 'identifierKind')) {
      const ids = kind.identifies === 'person' ? undefined : table.ids.get(kind.name);
      if (!ids) continue;
      yield;
      const wrong = new Map<number, number>();
      const early = new Map<number, number>();
      let overMs = Infinity;
      for (const [node, l] of lagsOf(table, kind.name))
        if (l.messages >= min && l.min >= tolerance * MINUTE_MS && l.max - l.min <= spread * MINUTE_MS) {
          const isEarly = l.lastReceived - l.firstReceived < DAY_MS;
          (isEarly ? early : wrong).set(node, (l.min + l.max) / 2);
          if (isEarly) overMs = Math.min(overMs, l.lastReceived - l.firstReceived);
        }
      for (const [state, found] of [
        ['fault', wrong],
        ['too early', early],
      ] as const)
        out.push(...foundIn(table, kind.name, ids, found, state, overMs));
    }
    yield* out;
  },
});

/** The messages of devices whose clocks run behind, by source. */
const foundIn = (
  table: MessageTable,
  kind: string,
  ids: IndexColumn,
  wrong: ReadonlyMap<number, number>,
  state: ClockBehind['state'],
  overMs: number,
): ManyFound<ClockBehind>[] => {
  if (wrong.size === 0) return [];
  const out: ManyFound<ClockBehind>[] = [];
  const causes = new CausesBySource(table);
  const devices = new Map<number, Set<number>>();
  for (let row = 0; row < ids.length; row++) {
    const node = ids.get(row);
    if (node < 0 || !wrong.has(node)) continue;
    causes.of(row).add(row);
    const source = table.source.get(row);
    devices.set(source, (devices.get(source) ?? new Set<number>()).add(node));
  }
  causes.ofAll();
  for (const all of causes.found()) {
    const source = table.sources.find(all.sourceId);
    const own = [...devices.get(source)!];
    const only = own.length === 1 ? own[0]! : -1;
    const found = only < 0 ? all : { ...all, outOf: messagesOfNode(table, ids, only, source) };
    out.push({
      params: {
        device: only < 0 ? '' : masked(table.nodes.valueOf(only)),
        behindMs: own.reduce((sum, n) => sum + wrong.get(n)!, 0) / own.length,
        overMs,
        state,
      },
      eventName: '',
      field: `ids.${kind}`,
      ...found,
      ...(state === 'too early' ? { severity: 'note' as const } : {}),
    });
  }
  return out;
};
