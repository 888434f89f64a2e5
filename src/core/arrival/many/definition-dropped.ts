import { personsWith } from '../../definitions/defined-events';
import type { Definition } from '../../definitions/definition';
import { droppedIn } from '../../definitions/dropped';
import { interactionsIn } from '../../definitions/interactions';
import { sourceRows } from '../../definitions/matching-rows';
import { successorsOf } from '../../definitions/successors';
import { entries } from '../../plan/plan';
import type { MessageTable } from '../../table/message-table';
import { defineManyCheck, type ManyFound } from '../check-many';
import { masked } from '../personal-data';

export interface DefinitionDropped {
  readonly name: string;
  /** Of the last message, such as 2026-11-05 14:32 UTC. */
  readonly lastMoment: string;
  /** The first release without it, where those that sent it are gone; empty where it is not known. */
  readonly release: string;
  readonly perDay: number;
  /** What probably took its place; empty where nothing speaks for it. */
  readonly text: string;
  readonly place: string;
}

const bySource = (rows: Int32Array, table: MessageTable): ReadonlyMap<number, number[]> => {
  const out = new Map<number, number[]>();
  for (let i = 0; i < rows.length; i++) {
    const source = table.source.get(rows[i]!);
    const list = out.get(source);
    if (list) list.push(rows[i]!);
    else out.set(source, [rows[i]!]);
  }
  return out;
};

const momentText = (at: number): string => `${new Date(at).toISOString().slice(0, 16).replace('T', ' ')} UTC`;

/** Texts may be long, and people may have written them. */
const short = (text: string): string => masked(text.length > 60 ? `${text.slice(0, 59)}…` : text);
const words = (p: DefinitionDropped): string => (p.text === '' ? `what is at ${short(p.place)}` : `“${short(p.text)}”`);

export const definitionDropped = defineManyCheck({
  id: 'definition-dropped',
  on: 'many',
  title: 'Definition that no longer matches anything',
  why: 'A definition hangs on a text, a place or an address: when a page changes, it counts nothing, and its figure falls to zero without a word.',
  example: {
    wrong: 'the button “Ask a librarian” says “Ask about this tool” since a release, and the definition still asks for the old words',
    right: 'the definition takes either of them from that day',
  },
  method:
    'The messages that a definition took from a source, against what the source sent of the same kind since the last of them: the chance that none of these is of the definition, at the share that it had before, is below one in a million. What took its place is an interaction that was not there before, judged by its place, pages, role, words and people. Source: the binomial chance of no success, (1 − p)^n; the likeness is an own definition.',
  severity: 'caution',
  fixer: () => 'plan',
  expected: (p: DefinitionDropped) => `about ${Math.max(1, Math.round(p.perDay)).toLocaleString('en-GB')} messages a day`,
  received: (p: DefinitionDropped) => `none since ${p.lastMoment}`,
  message: (p: DefinitionDropped) =>
    `takes nothing since ${p.lastMoment}, where about ${Math.max(1, Math.round(p.perDay)).toLocaleString('en-GB')} messages a day were usual${p.release === '' ? '' : `; release ${p.release} came then`}${p.text === '' && p.place === '' ? '' : `; ${words(p)} probably took its place`}`,
  cause: (p: DefinitionDropped) =>
    p.text === '' && p.place === ''
      ? 'What it asks for is no longer on the page, or under another address.'
      : 'The element has another text or place since then.',
  fix: (p: DefinitionDropped) =>
    p.text === '' && p.place === ''
      ? `Look at what \`${p.name}\` just misses, and change its conditions.`
      : `Take ${words(p)} into \`${p.name}\` as well.`,
  *find({ plan, people, now }) {
    const out: ManyFound<DefinitionDropped>[] = [];
    const seen = personsWith(people, plan);
    const { table } = seen;
    const timeOf = (row: number): number => table.time.get(row);
    const releaseOf = (row: number): string => table.releases.values[table.release.get(row)] ?? '';
    /** What each definition is measured against; that of one source is asked for by several. */
    const offeredBy = new Map<string, ReadonlyMap<number, number[]>>();
    const offeredTo = (d: Definition): ReadonlyMap<number, number[]> => {
      const key = JSON.stringify(d.source.of === 'events' ? d.source.names.filter((n) => n !== d.name) : d.source.of);
      let own = offeredBy.get(key);
      if (!own)
        offeredBy.set(
          key,
          (own = bySource(sourceRows(d.source, { table, definedRows: (n) => (n === d.name ? undefined : table.rowsOf(n)) }), table)),
        );
      return own;
    };
    for (const [, d] of entries(plan, 'definition')) {
      if (d.retired || !table.isDefined(d.name)) continue;
      yield;
      const rows = table.rowsOf(d.name);
      const offered = offeredTo(d);
      for (const [source, own] of bySource(rows, table)) {
        yield;
        const all = offered.get(source) ?? [];
        const drop = droppedIn(own, all, timeOf, releaseOf);
        if (!drop) continue;
        yield;
        const lost = d.source.of === 'interactions' ? interactionsIn(own, seen).sort((a, b) => b.people - a.people)[0] : undefined;
        const next = lost && successorsOf({ ...lost, lastAt: drop.lastAt }, interactionsIn(all, seen), now)[0];
        out.push({
          params: {
            name: d.name,
            lastMoment: momentText(drop.lastAt),
            release: drop.release ?? '',
            perDay: drop.perDay,
            text: next?.interaction.text ?? '',
            place: next?.interaction.place ?? '',
          },
          eventName: d.name,
          field: '',
          sourceId: table.sources.values[source]!,
          releases: [],
          count: 0,
          outOf: 0,
          firstAt: drop.lastAt,
          lastAt: now,
          rows: [...rows.slice(-5)].reverse(),
        });
      }
    }
    yield* out;
  },
});
