/** Figures that are asked for again: worked out anew when a message came that they count, or whoever was counted became somebody else. */
import { canonicalJson } from '../plan/content-hash';
import { figureOf } from './compute-figure';
import type { Figure, FigureContext } from './figure';
import type { Formula } from './formula';

/** So long a figure stands while nothing comes that it counts: windows that end now move with the clock. */
const STANDS_MS = 60_000;
const MOST = 500;

interface Remembered {
  readonly figure: Figure;
  readonly now: number;
  /** Messages of the events that it counts, one after the other. */
  readonly rows: string;
}

const lineages = new WeakMap<object, Map<string, Remembered>>();

/** What a formula looks at: its events, by name, and whether all that anybody sends may make a difference to it. */
const looksAt = (f: Formula): { readonly events: readonly string[]; readonly everything: boolean } => {
  const events = new Set<string>();
  let everything = false;
  JSON.stringify(f, (key, v: unknown) => {
    if (key === 'eventName' && typeof v === 'string') events.add(v);
    // A user property is set by any message, and a session is made of all.
    if ((key === 'of' && v === 'user property') || (key === 'who' && v === 'sessions')) everything = true;
    return v;
  });
  return { events: [...events], everything };
};

/** As `figureOf`, for a context without filters and groups of its own. */
export const rememberedFigure = (f: Formula, c: FigureContext): Figure => {
  const { table, lineage, personOfMessage } = c.people;
  let known = lineages.get(lineage);
  if (!known) lineages.set(lineage, (known = new Map()));
  const key = canonicalJson([f, c.settings, [...(c.buckets ?? [])]]);
  const { events, everything } = looksAt(f);
  const rows = everything ? `all ${personOfMessage.length}` : events.map((name) => table.rowsOf(name).length).join(' ');
  const before = known.get(key);
  if (before?.rows === rows && c.now >= before.now && c.now - before.now < STANDS_MS) return before.figure;
  const figure = figureOf(f, c);
  if (known.size >= MOST) known.delete(known.keys().next().value!);
  known.set(key, { figure, now: c.now, rows });
  return figure;
};
