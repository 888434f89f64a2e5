/** What was found before and is put up with for now, so that a build fails by what is new alone. */
import type { Case, Report, Result } from './report';

/** Of each command what was known: findings by code, subject and sentence. */
export interface Baseline {
  readonly format: 'signal-post-baseline/1';
  readonly known: { readonly [command: string]: readonly KnownFinding[] };
}

export interface KnownFinding {
  readonly code: string;
  readonly subject: string;
  readonly sentence: string;
}

/** A finding is the same one when nothing but numbers in its sentence changed: more messages of the same fault are no new fault. */
const keyOf = ({ code, subject, sentence }: KnownFinding): string =>
  JSON.stringify([code, subject, sentence.replaceAll(/\d[\d.,:]*/g, '#')]);

/** A baseline with what a report found in place of what it had of this command; what other commands found stays. */
export const baselineOf = (report: Report, before?: Baseline): Baseline => {
  const own = new Map(
    report.results.map(({ code, subject, sentence }) => [keyOf({ code, subject, sentence }), { code, subject, sentence }]),
  );
  const known = { ...before?.known, [report.command]: [...own].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, f]) => f) };
  return { format: 'signal-post-baseline/1', known: Object.fromEntries(Object.entries(known).sort(([a], [b]) => (a < b ? -1 : 1))) };
};

/** A report with what is new alone.
 *  Shape: what is known is counted in its facts, and so is what the baseline knows and nothing finds any more. A case that failed by what is known alone
 *  counts as skipped, not as passed.
 */
export const newSince = (report: Report, baseline: Baseline): Report => {
  const known = new Map((baseline.known[report.command] ?? []).map((f) => [keyOf(f), f]));
  const isKnown = (r: Result): boolean => known.has(keyOf(r));
  const fresh = report.results.filter((r) => !isKnown(r));
  const old = report.results.filter(isKnown);
  const found = new Set(report.results.map(keyOf));
  const gone = [...known.keys()].filter((k) => !found.has(k)).length;
  const [newOf, oldOf] = [new Set(fresh.map((r) => r.subject)), new Set(old.map((r) => r.subject))];
  return {
    ...report,
    facts: [
      ...report.facts,
      `${old.length.toLocaleString('en-GB')} known by the baseline, not shown`,
      ...(gone > 0 ? [`${gone.toLocaleString('en-GB')} of the baseline are found no more; write it anew`] : []),
    ],
    results: fresh,
    rules: report.rules.filter((rule) => fresh.some((r) => r.code === rule.code)),
    cases: report.cases.map((c): Case =>
      c.state === 'failed' && !newOf.has(c.name) && oldOf.has(c.name) ? { ...c, state: 'skipped', text: `Known: ${c.text}` } : c,
    ),
  };
};
