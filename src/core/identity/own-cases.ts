/** A workspace's own cases for the bench: trying them under rules, and taking one from what a real person sent. */
import type { CaseStep, IdentityCase, IdentityRules } from '../plan/plan';
import type { Persons } from './persons';
import { isPlaceholderId } from './placeholder';
import { rehearse } from './rehearsal';

export interface CaseResult {
  readonly id: string;
  readonly title: string;
  readonly expected: number;
  readonly found: number;
}

/** Persons that each case comes to under these rules, beside those it must come to. */
export const tryCases = (cases: readonly IdentityCase[], rules: IdentityRules): CaseResult[] =>
  cases.map((c) => ({
    id: c.id,
    title: c.title,
    expected: c.persons,
    found: rehearse(c.steps, c.steps.length, rules).persons.length,
  }));

/** Those that do not pass. */
export const failing = (results: readonly CaseResult[]): CaseResult[] => results.filter((r) => r.found !== r.expected);

const MAX_STEPS = 40;

/** The messages of a person that showed an identifier, or two of them together, for the first time, as steps by time.
 *  Shape: at most 40 steps. Identifiers are renamed ("user 1"), so that no real one gets into the plan; placeholders stay as they are,
 *  since that is what they are about.
 */
export const stepsOf = ({ table, personOfMessage }: Persons, person: number): CaseStep[] => {
  const rows: number[] = [];
  for (let row = 0; row < table.length; row++) if (personOfMessage[row] === person) rows.push(row);
  rows.sort((a, b) => table.time.get(a) - table.time.get(b) || a - b);
  const counts = new Map<string, number>();
  const alias = new Map<number, string>();
  const aliasOf = (node: number): string => {
    let known = alias.get(node);
    if (known === undefined) {
      const { kind, value } = table.nodes.get(node);
      const n = (counts.get(kind) ?? 0) + 1;
      known = isPlaceholderId(value) ? value : `${kind} ${n}`;
      if (!isPlaceholderId(value)) counts.set(kind, n);
      alias.set(node, known);
    }
    return known;
  };
  const seen = new Set<string>();
  const steps: CaseStep[] = [];
  for (const row of rows) {
    const carried = [...table.ids].map(([kind, c]) => [kind, c.get(row)] as const).filter(([, node]) => node >= 0);
    const shows = carried.flatMap(([, a]) => carried.map(([, b]) => `${Math.min(a, b)} ${Math.max(a, b)}`));
    if (carried.length === 0 || shows.every((s) => seen.has(s))) continue;
    for (const s of shows) seen.add(s);
    const name = table.names.values[table.name.get(row)];
    steps.push({
      title: name ?? 'identify call',
      kind: name === undefined ? 'identify' : 'event',
      name: name ?? '',
      source: table.sources.values[table.source.get(row)]!,
      ids: Object.fromEntries(carried.map(([kind, node]) => [kind, aliasOf(node)])),
    });
    if (steps.length === MAX_STEPS) break;
  }
  return steps;
};

/** Identifiers as people write them: "anonymous a-1 + user m-1". */
export const idsText = (ids: CaseStep['ids']): string =>
  Object.entries(ids)
    .map(([kind, value]) => `${kind} ${value}`)
    .join(' + ');

/** The identifiers that a text says; a sentence where it says none. */
export const idsFromText = (text: string): Record<string, string> | string => {
  const parts = text.split('+').map((part) => part.trim());
  const ids: [string, string][] = [];
  for (const part of parts) {
    const m = /^(\S+)\s+(.+)$/.exec(part);
    if (!m) return `Write kind and value, such as “user m-1”; “${part.slice(0, 40)}” is not that.`;
    ids.push([m[1]!, m[2]!]);
  }
  if (new Set(ids.map(([kind]) => kind)).size < ids.length) return 'A message carries one identifier of a kind; make it two steps.';
  return Object.fromEntries(ids);
};
