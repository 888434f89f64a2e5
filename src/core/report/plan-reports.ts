/** Reports on plans: what its own rules say, and what a change means. */
import { allRules, lintMessage, lintPlan, ruleOf } from '../lint/lint';
import type { Severity } from '../findings/severity';
import { KIND_WORD } from '../plan/kind-words';
import { diffPlans } from '../plan/diff';
import { judgeChanges, type Impact, type JudgedChange } from '../plan/impact';
import { entries, KINDS, labelOf, type Kind, type Plan } from '../plan/plan';
import { ordered, type Case, type Place, type Report, type Result } from './report';

export type PlaceOf = (path: readonly (string | number)[]) => Place | undefined;

const placesOf = (placeOf: PlaceOf, path: readonly (string | number)[]): Place[] => {
  const place = placeOf(path);
  return place ? [place] : [];
};

const subjectOf = (plan: Plan, kind: Kind, id: string): string => {
  const label = kind === 'settings' ? '' : labelOf(kind, (plan[kind] as Record<string, unknown>)[id]);
  return label === '' ? KIND_WORD[kind] : `${KIND_WORD[kind]} ${label}`;
};

/** What the rules of the plan find. Cases: one for each entity. */
export const lintReport = (plan: Plan, title: string, placeOf: PlaceOf): Report => {
  const found = lintPlan(plan);
  const results = found.map((f): Result => {
    const [kind, id] = f.path as [Kind, string];
    return {
      code: f.code,
      severity: f.severity,
      subject: KINDS.includes(kind) ? subjectOf(plan, kind, id) : '',
      sentence: lintMessage(f),
      fix: ruleOf(f.code)?.fix?.(f.params) ?? '',
      places: placesOf(placeOf, f.path),
    };
  });
  const said = new Map<string, string[]>();
  for (const [i, f] of found.entries()) {
    const key = JSON.stringify(f.path.slice(0, 2));
    said.set(key, [...(said.get(key) ?? []), `${results[i]!.severity}: ${results[i]!.sentence}`]);
  }
  const cases = KINDS.flatMap((kind) =>
    entries(plan, kind).map(([id]): Case => {
      const own = said.get(JSON.stringify([kind, id])) ?? [];
      const place = placeOf([kind, id]);
      return {
        group: KIND_WORD[kind],
        name: subjectOf(plan, kind, id),
        state: own.length > 0 ? 'failed' : 'passed',
        text: own.join('\n'),
        ...(place ? { place } : {}),
      };
    }),
  );
  const used = new Set(results.map((r) => r.code));
  return {
    command: 'lint',
    title: `Plan ${title}`,
    facts: KINDS.filter((k) => k !== 'settings' && entries(plan, k).length > 0).map((k) => `${entries(plan, k).length} × ${KIND_WORD[k]}`),
    results: ordered(results),
    rules: allRules.filter((r) => used.has(r.id)).map((r) => ({ code: r.id, title: r.title, why: r.why, severity: r.severity })),
    cases,
  };
};

const SEVERITY: Readonly<Record<Impact, Severity>> = { breaking: 'stop', additive: 'note', wording: 'note' };

const sentenceOf = (subject: string, c: JudgedChange, field: string | undefined): string =>
  c.what === 'added' ? `${subject} is new.` : c.what === 'removed' ? `${subject} is gone.` : `${field ?? 'A field'} of ${subject} changed.`;

/** What a change of the plan means: breaking or additive, each with its reason. Wording alone is counted and not listed. */
export const diffReport = (from: Plan, to: Plan, titles: readonly [string, string], placeOf: PlaceOf): Report => {
  const changes = judgeChanges(diffPlans(from, to), from, to);
  const results: Result[] = [];
  let wording = 0;
  for (const c of changes)
    for (const f of c.fields.length > 0
      ? c.fields
      : [{ field: undefined, before: undefined, after: undefined, impact: c.impact, reason: '' }]) {
      if (f.impact === 'wording') {
        wording++;
        continue;
      }
      const subject = subjectOf(c.what === 'removed' ? from : to, c.kind, c.id);
      results.push({
        code: f.impact,
        severity: SEVERITY[f.impact],
        subject,
        sentence: `${sentenceOf(subject, c, f.field)} ${f.reason}`.trim(),
        fix: '',
        places: placesOf(placeOf, f.field === undefined ? [c.kind, c.id] : [c.kind, c.id, f.field]),
      });
    }
  return {
    command: 'diff',
    title: `Changes from ${titles[0]} to ${titles[1]}`,
    facts: [
      `${results.filter((r) => r.code === 'breaking').length} breaking, ${results.filter((r) => r.code === 'additive').length} additive, ${wording} of wording alone`,
    ],
    results: ordered(results),
    rules: [
      {
        code: 'breaking',
        title: 'Breaking change',
        why: 'What was right before is wrong now, or a figure changes its meaning.',
        severity: 'stop',
      },
      { code: 'additive', title: 'Additive change', why: 'More is possible than before.', severity: 'note' },
    ],
    cases: results.map((r) => ({
      group: r.subject,
      name: r.sentence,
      state: r.code === 'breaking' ? 'failed' : 'passed',
      text: r.code === 'breaking' ? r.sentence : '',
    })),
  };
};
