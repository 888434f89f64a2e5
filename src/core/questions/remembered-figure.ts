/** Figures that are asked for again: worked out anew when a message came that they count, or whoever was counted became somebody else. */
import { canonicalJson } from '../plan/content-hash';
import { figureOf } from './compute-figure';
import type { Figure, FigureContext } from './figure';
import type { Formula } from './formula';
import { sessionsIn } from './select';

/** This long a figure is while nothing comes that it counts: windows that end now move with the clock. */
export const STANDS_MS = 60_000;
const MAX = 500;

interface Remembered {
  readonly figure: Figure;
  readonly now: number;
  /** Messages of the events that it counts, one after the other. */
  readonly rows: string;
  /** Which sessions it was narrowed by. */
  readonly sessions: object | undefined;
}

const lineages = new WeakMap<object, Map<string, Remembered>>();

/** What a formula looks at: its events, by name, whether all that anybody sends may make a difference to it, and whether sessions do. */
export const looksAt = (f: Formula): { readonly events: readonly string[]; readonly everything: boolean; readonly bySessions: boolean } => {
  const events = new Set<string>();
  let [everything, bySessions] = [false, false];
  JSON.stringify(f, (key, v: unknown) => {
    if (key === 'eventName' && typeof v === 'string') events.add(v);
    // Any message may set a user property.
    if (key === 'of' && v === 'user property') everything = true;
    if (key === 'who' && v === 'sessions') bySessions = true;
    return v;
  });
  return { events: [...events], everything, bySessions };
};

/** As `figureOf`, for a context without filters and groups of its own. */
export const rememberedFigure = (f: Formula, c: FigureContext): Figure => {
  const { table, lineage, personOfMessage } = c.people;
  let own = lineages.get(lineage);
  if (!own) lineages.set(lineage, (own = new Map<string, Remembered>()));
  const { events, everything, bySessions } = looksAt(f);
  const key = canonicalJson([f, c.settings, [...(c.buckets ?? [])], events.map((name) => table.keyOf(name))]);
  // A message that comes in order makes a session longer, or a new one: the others stay as they are.
  const sessions = bySessions ? sessionsIn(c).lineage : undefined;
  // A property that nobody had sent is another thing than one that others send.
  const known = `${table.properties.size} ${table.userProperties.size}`;
  const rows = `${known} ${everything ? `all ${personOfMessage.length}` : events.map((name) => table.rowsOf(name).length).join(' ')}`;
  const before = own.get(key);
  if (before?.rows === rows && before.sessions === sessions && c.now >= before.now && c.now - before.now < STANDS_MS) return before.figure;
  const figure = figureOf(f, c);
  if (own.size >= MAX) own.delete(own.keys().next().value!);
  own.set(key, { figure, now: c.now, rows, sessions });
  return figure;
};
