/** Whether leaving out those who did something leaves a trace of it: then another event stands for the same act, and some of them stay in. */
import { wilson } from '../stats/wilson';
import { lowerBound } from '../table/column';
import type { MessageTable } from '../table/message-table';

export interface Trace {
  readonly eventName: string;
  /** People who stay in and have the other event. */
  readonly people: number;
  /** Of the times that the act was done at a source that sends the other event, so many have that within seconds. */
  readonly near: number;
  readonly acts: number;
  /** Messages that the definition of the act and the other event share. */
  readonly shared: number;
}

interface Options {
  /** Rows of the act that is left out, ascending. */
  readonly acts: Int32Array;
  /** Other events and definitions, with their rows, ascending. */
  readonly others: ReadonlyMap<string, Int32Array>;
  readonly table: Pick<MessageTable, 'time' | 'source'>;
  /** Person of each row, −1 for none. */
  readonly personOfMessage: Int32Array;
  /** An act and its trace lie so close together. Units: ms. */
  readonly withinMs?: number;
  /** What comes with so many of the acts stands for the same one, 0..1. */
  readonly share?: number;
}

const WITHIN_MS = 5000;
const MOST = 0.5;

const byPerson = (rows: Int32Array, personOf: Int32Array, time: Float64Array): Map<number, Float64Array> => {
  const out = new Map<number, number[]>();
  for (const row of rows) {
    const p = personOf[row]!;
    if (p < 0) continue;
    const own = out.get(p);
    if (own) own.push(time[row]!);
    else out.set(p, [time[row]!]);
  }
  return new Map([...out].map(([p, own]) => [p, Float64Array.from(own).sort()]));
};

const hasNear = (sorted: Float64Array | undefined, at: number, withinMs: number): boolean => {
  const next = sorted?.[lowerBound(sorted, at - withinMs)];
  return next !== undefined && next <= at + withinMs;
};

/** Events that stand for the act as well, and that people have who would stay in.
 *  Shape: most people first; empty where nothing is left. Messages of nobody are neither counted nor compared.
 *  Method: an event is a trace where it shares messages with the act, or lies within seconds of most of the acts, by the same person: of so many
 *  that the lower bound of the share's Wilson 95 % interval is above a half. Source: own definition; stats/wilson.
 */
export const tracesOf = ({ acts, others, table, personOfMessage, withinMs = WITHIN_MS, share = MOST }: Options): Trace[] => {
  const time = table.time.raw;
  const did = byPerson(acts, personOfMessage, time);
  const counted = [...acts].filter((row) => personOfMessage[row]! >= 0);
  const actRows = new Set(acts);
  const out: Trace[] = [];
  for (const [eventName, rows] of others) {
    const theirs = byPerson(rows, personOfMessage, time);
    const people = [...theirs.keys()].filter((p) => !did.has(p)).length;
    if (people === 0) continue;
    const shared = rows.reduce((n, row) => n + (actRows.has(row) ? 1 : 0), 0);
    const sources = new Set<number>();
    for (const row of rows) sources.add(table.source.get(row));
    const own = counted.filter((row) => sources.has(table.source.get(row)));
    const near = own.filter((row) => hasNear(theirs.get(personOfMessage[row]!), time[row]!, withinMs)).length;
    if (shared > 0 || (wilson(near, own.length)?.low ?? 0) > share) out.push({ eventName, people, near, acts: own.length, shared });
  }
  return out.sort((a, b) => b.people - a.people || (a.eventName < b.eventName ? -1 : 1));
};
