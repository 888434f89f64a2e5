/** The findings on single messages, counted out of the columns: each row with findings is looked at once. */
import type { Severity } from '../findings/severity';
import { followingVerdicts } from '../table/following';
import type { MessageTable } from '../table/message-table';
import type { Verdict } from '../table/row-verdicts';
import { countDay, TREND_MS } from './check-many';
import { saidBy, type MessageSaid } from './message-finding';
import { variantOf } from './words';

/** How often a finding was made on messages of one event, source and release. */
export interface FindingCount {
  readonly code: string;
  readonly eventName: string;
  readonly field: string;
  /** What tells it from others on the same field, such as the value; empty for nothing. */
  readonly variant: string;
  readonly sourceId: string;
  readonly release: string;
  readonly severity: Severity;
  /** What the newest says. */
  readonly said: MessageSaid;
  readonly count: number;
  /** UTC epoch ms, by the messages' own time. */
  readonly firstAt: number;
  readonly lastAt: number;
  /** Sequence numbers of up to five messages, newest first. */
  readonly samples: readonly number[];
  /** Messages of each day, days since 1970 in UTC, but for those that were older than four weeks when they came. */
  readonly perDay: ReadonlyMap<number, number>;
}

interface Open {
  readonly code: string;
  readonly name: number;
  readonly field: string;
  readonly variant: string;
  readonly source: number;
  readonly release: number;
  severity: Severity;
  said: MessageSaid;
  count: number;
  firstAt: number;
  lastAt: number;
  /** Sequence numbers of the last few, in order of arrival. */
  readonly samples: number[];
  readonly perDay: Map<number, number>;
}

/** Many values under one field are told apart up to here; those beyond are one. */
const MAX_VARIANTS = 40;
const SAMPLES = 5;

/** Code → field → variant → name → source → release: what tells a count from the others, without texts glued together. */
type OfVariant = Map<number, Map<number, Map<number, Open>>>;
type OfField = Map<string, OfVariant>;
type OfCode = Map<string, OfField>;
type Tree = Map<string, OfCode>;

const branch = <K, V>(m: Map<K, V>, key: K, make: () => V): V => {
  let found = m.get(key);
  if (found === undefined) m.set(key, (found = make()));
  return found;
};

export const fieldOf = (v: Pick<Verdict, 'path'>): string => v.path.join('.');

/** What is the same of a verdict on however many messages it is. */
const texts = new WeakMap<Verdict, { readonly field: string; readonly variant: string }>();
const textsOf = (v: Verdict): { readonly field: string; readonly variant: string } => {
  let known = texts.get(v);
  if (!known) texts.set(v, (known = { field: fieldOf(v), variant: variantOf(saidBy(v)) }));
  return known;
};

const counts = followingVerdicts(
  () => ({ tree: new Map() as Tree, all: [] as Open[] }),
  (state, table, from, to) => {
    for (const row of table.judgedRows(from)) {
      if (row >= to) break;
      const at = table.time.get(row);
      const isRecent = table.received.get(row) - at < TREND_MS;
      for (const v of table.verdicts.get(row)!) {
        const { field, variant: own } = textsOf(v);
        const variants = branch(
          branch(state.tree, v.code, (): OfCode => new Map()),
          field,
          (): OfField => new Map(),
        );
        const variant = variants.has(own) || variants.size < MAX_VARIANTS ? own : '';
        const bySource = branch(
          branch(variants, variant, (): OfVariant => new Map()),
          table.name.get(row),
          () => new Map<number, Map<number, Open>>(),
        );
        const byRelease = branch(bySource, table.source.get(row), () => new Map<number, Open>());
        const release = table.release.get(row);
        const open = byRelease.get(release);
        if (!open) {
          const made: Open = {
            code: v.code,
            name: table.name.get(row),
            field,
            variant,
            source: table.source.get(row),
            release,
            severity: v.severity,
            said: saidBy(v),
            count: 1,
            firstAt: at,
            lastAt: at,
            samples: [table.seq.get(row)],
            perDay: new Map(),
          };
          byRelease.set(release, made);
          if (isRecent) countDay(made.perDay, at);
          state.all.push(made);
          continue;
        }
        open.count++;
        if (isRecent) countDay(open.perDay, at);
        if (open.samples.push(table.seq.get(row)) > SAMPLES) open.samples.shift();
        open.firstAt = Math.min(open.firstAt, at);
        // What is said is what the newest says.
        if (at >= open.lastAt) {
          open.lastAt = at;
          open.severity = v.severity;
          open.said = saidBy(v);
        }
      }
    }
  },
);

/** One count for each code, event, field, variant, source and release, in the order of first sight. */
export const findingCounts = (table: MessageTable): FindingCount[] =>
  counts(table).all.map((o) => ({
    code: o.code,
    eventName: table.names.values[o.name] ?? '',
    field: o.field,
    variant: o.variant,
    sourceId: table.sources.values[o.source]!,
    release: table.releases.values[o.release]!,
    severity: o.severity,
    said: o.said,
    count: o.count,
    firstAt: o.firstAt,
    lastAt: o.lastAt,
    samples: o.samples.toReversed(),
    perDay: o.perDay,
  }));
