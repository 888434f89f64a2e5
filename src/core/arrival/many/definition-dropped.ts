import { personsWith } from '../../definitions/defined-events';
import { droppedIn } from '../../definitions/dropped';
import { interactionsIn } from '../../definitions/interactions';
import { successorsOf } from '../../definitions/successors';
import { entries } from '../../plan/plan';
import { rowsOfKind } from '../../table/kind-rows';
import type { MessageTable } from '../../table/message-table';
import { defineManyCheck, type ManyFound } from '../check-many';
import { masked } from '../personal-data';

export interface DefinitionDropped {
  readonly name: string;
  /** UTC day of the last message, such as 2026-11-05. */
  readonly lastDay: string;
  /** The first release without it, where those that sent it are gone; empty where it is not known. */
  readonly release: string;
  readonly perDay: number;
  /** What probably took its place; empty where nothing speaks for it. */
  readonly text: string;
  readonly place: string;
}

/** Messages by source, ascending by time. */
const bySource = (rows: Int32Array, table: MessageTable): Map<number, { at: number; release: string }[]> => {
  const out = new Map<number, { at: number; release: string }[]>();
  for (const row of rows) {
    const source = table.source.get(row);
    const list = out.get(source) ?? [];
    list.push({ at: table.time.get(row), release: table.releases.values[table.release.get(row)] ?? '' });
    out.set(source, list);
  }
  for (const list of out.values()) list.sort((a, b) => a.at - b.at);
  return out;
};

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
  received: (p: DefinitionDropped) => `none since ${p.lastDay}`,
  message: (p: DefinitionDropped) =>
    `takes nothing since ${p.lastDay}, where about ${Math.max(1, Math.round(p.perDay)).toLocaleString('en-GB')} messages a day were usual${p.release === '' ? '' : `; release ${p.release} came then`}${p.text === '' && p.place === '' ? '' : `; ${words(p)} probably took its place`}`,
  cause: (p: DefinitionDropped) =>
    p.text === '' && p.place === ''
      ? 'What it asks for is no longer on the page, or under another address.'
      : 'The element has another text or place since then.',
  fix: (p: DefinitionDropped) =>
    p.text === '' && p.place === ''
      ? `Look at what \`${p.name}\` just misses, and change its conditions.`
      : `Take ${words(p)} into \`${p.name}\` as well.`,
  find({ plan, people, now }) {
    const out: ManyFound<DefinitionDropped>[] = [];
    const seen = personsWith(people, plan);
    const { table } = seen;
    let interactions: Int32Array | undefined;
    for (const [, d] of entries(plan, 'definition')) {
      if (d.retired || !table.isDefined(d.name)) continue;
      const rows = table.rowsOf(d.name);
      const ofInteractions = d.source.of === 'interactions';
      if (ofInteractions) interactions ??= rowsOfKind(table, 'interaction');
      const offered =
        d.source.of === 'events'
          ? table.rowsOf(table.unionOf(d.source.names.filter((n) => n !== d.name)) ?? d.source.names.find((n) => n !== d.name) ?? d.name)
          : ofInteractions
            ? interactions!
            : rows;
      const all = bySource(offered, table);
      for (const [source, own] of bySource(rows, table)) {
        const drop = droppedIn(own, all.get(source) ?? []);
        if (!drop) continue;
        const ofSource = ofInteractions ? interactions!.filter((row) => table.source.get(row) === source) : new Int32Array(0);
        const lost = interactionsIn(
          rows.filter((row) => table.source.get(row) === source),
          seen,
        ).sort((a, b) => b.people - a.people)[0];
        const next =
          ofInteractions && lost ? successorsOf({ ...lost, lastAt: drop.lastAt }, interactionsIn(ofSource, seen), now)[0] : undefined;
        out.push({
          params: {
            name: d.name,
            lastDay: new Date(drop.lastAt).toISOString().slice(0, 10),
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
    return out;
  },
});
