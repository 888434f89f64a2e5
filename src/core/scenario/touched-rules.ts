/** Rules of alerts that a change touches: those that name what it changes or takes away. A rule about everything names nothing. */
import type { KeptRule } from '../alerts/kept-rule';
import { entries, isLive, type Plan } from '../plan/plan';
import type { DryRun, Touched } from './dry-run';

const namesOf = (plan: Plan): ReadonlySet<string> =>
  new Set([
    ...entries(plan, 'event').flatMap(([, e]) => (isLive(e) ? [e.name] : [])),
    ...entries(plan, 'definition').flatMap(([, d]) => (d.retired ? [] : [d.name])),
  ]);

const ownersOf = (plan: Plan): ReadonlySet<string> =>
  new Set([...entries(plan, 'event'), ...entries(plan, 'source'), ...entries(plan, 'question')].map(([, x]) => x.owner));

export const touchedRules = (
  rules: readonly KeptRule[],
  [before, after]: readonly [Plan, Plan],
  touched: readonly Touched[],
): NonNullable<DryRun['alerts']> => {
  const [had, has] = [namesOf(before), namesOf(after)];
  const [asked, asks] = [ownersOf(before), ownersOf(after)];
  const means = new Set(touched.flatMap((t) => (t.kind === 'question' ? [t.id] : [])));
  return rules.flatMap((r) => {
    if (!r.active) return [];
    const because = [
      ...r.questions.flatMap((id) =>
        before.question[id] && !after.question[id]
          ? [`the question “${before.question[id].text}” is gone`]
          : means.has(id)
            ? [`the question “${after.question[id]?.text ?? id}” may mean something else`]
            : [],
      ),
      ...r.events.flatMap((name) => (had.has(name) && !has.has(name) ? [`nothing is called \`${name}\``] : [])),
      ...r.sources.flatMap((id) => (before.source[id] && !after.source[id] ? [`the source ${before.source[id].name} is gone`] : [])),
      ...r.owners.flatMap((name) => (asked.has(name) && !asks.has(name) ? [`${name} owns nothing`] : [])),
    ];
    return because.length === 0 ? [] : [{ name: r.name, because: because.join('; ') }];
  });
};
