/** What a dry run found: findings, persons, figures and what is touched, before and after. */
import type { DryRun, FindingDelta, QuestionDelta } from '../../core/scenario/dry-run';
import { whoFixes } from '../../core/arrival/who-fixes';
import { settingsOf, type Plan } from '../../core/plan/plan';
import { count, dayText, decimal, percent, plural } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { SEVERITY_FILL } from '../../ui/severity-tone';
import { Signal } from '../../ui/Signal';
import { SourceMark } from '../../ui/SourceMark';
import { PERSON_SIDES } from '../identity/person-sides';
import { places } from '../workplace/place';
import { useWorkplace } from '../workplace/context';

const number = (n: number | undefined, isShare: boolean): string => (n === undefined ? '–' : isShare ? percent(n) : decimal(n));

const differs = (q: QuestionDelta): boolean => q.before !== q.after || q.signalBefore !== q.signalAfter;

/** The difference of a figure, in words. */
const differenceText = ({ before, after, isShare, withinChance }: QuestionDelta): string => {
  if (before === undefined || after === undefined || before === after) return '';
  const d = after - before;
  const sign = d > 0 ? '+' : '−';
  const size = isShare ? `${decimal(Math.abs(d) * 100)} points` : decimal(Math.abs(d));
  return `${sign}${size}${withinChance === undefined ? '' : withinChance ? ', within chance' : ', beyond chance'}`;
};

const whatHappened = (f: FindingDelta): string =>
  f.before === 0 ? 'appears' : f.after === 0 ? 'vanishes' : f.after > f.before ? 'grows' : f.after < f.before ? 'shrinks' : 'severity';

const MAX_FINDINGS = 30;

const Findings = ({ run, plan }: { run: DryRun; plan: Plan }) => (
  <table className="w-full border-collapse">
    <thead>
      <tr className="text-left text-sm text-ink-2">
        <th className="font-medium">finding</th>
        <th className="w-[130px] font-medium">who fixes it</th>
        <th className="w-16 text-right font-medium">before</th>
        <th className="w-16 text-right font-medium">after</th>
      </tr>
    </thead>
    <tbody>
      {run.findings.slice(0, MAX_FINDINGS).map((f) => {
        const source = plan.source[f.sourceId];
        return (
          <tr key={f.key} className="border-t border-rule align-top">
            <td className="py-1 pr-3">
              <span className={`mr-1.5 inline-block size-2 ${SEVERITY_FILL[f.severity]}`} aria-hidden />
              <span className="text-sm font-semibold">{whatHappened(f)}</span>{' '}
              {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : f.sourceId} <Rich text={f.sentence} />
              {f.releases.length > 0 ? <span className="text-sm text-ink-2"> Releases {f.releases.join(', ')}.</span> : null}
            </td>
            <td className="py-1 text-sm text-ink-2">{whoFixes(plan, f)}</td>
            <td className="py-1 text-right figures">{count(f.before)}</td>
            <td className="py-1 text-right font-bold figures">{count(f.after)}</td>
          </tr>
        );
      })}
    </tbody>
  </table>
);

const Head = ({ children }: { children: string }) => <h3 className="mt-4 mb-0.5 font-bold">{children}</h3>;

export const DryRunResult = ({ run, plan }: { run: DryRun; plan: Plan }) => {
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const questions = run.questions.filter(differs);
  const sides = PERSON_SIDES.filter(([key]) => run.persons.before[key] !== run.persons.after[key]);
  return (
    <div aria-live="polite">
      <p className="text-ink-2">
        Compared with version {run.version}, over the recorded messages
        {run.stretch ? ` of ${dayText(run.stretch.from, timeZone)} to ${dayText(run.stretch.to - 1, timeZone)}` : ''}
        {run.judged > 0 ? `; ${plural(run.judged, 'message was', 'messages were')} judged anew` : ''}.
      </p>
      <Head>Figures and signals</Head>
      {questions.length === 0 ? (
        <p className="text-ink-2">All {run.questions.length} stay as they are.</p>
      ) : (
        <table className="w-full border-collapse">
          <thead>
            <tr className="text-right text-sm text-ink-2">
              <th className="text-left font-medium">question</th>
              <th className="w-[84px] font-medium">before</th>
              <th className="w-[84px] font-medium">after</th>
              <th className="w-[200px] font-medium">difference</th>
              <th className="w-[70px] font-medium">signal</th>
            </tr>
          </thead>
          <tbody>
            {questions.map((q) => (
              <tr key={q.id} className="border-t border-rule text-right figures">
                <th className="max-w-[240px] py-1 text-left font-normal">
                  <button
                    type="button"
                    className="min-h-[24px] max-w-full truncate text-left hover:text-accent"
                    onClick={() => go(...places.question(q.id))}
                  >
                    {q.text}
                  </button>
                </th>
                <td>{number(q.before, q.isShare)}</td>
                <td className="font-bold">{number(q.after, q.isShare)}</td>
                <td className="font-sans text-sm text-ink-2">{differenceText(q)}</td>
                <td>
                  <span className="inline-flex items-center gap-1">
                    {q.signalBefore ? <Signal state={q.signalBefore} size="small" /> : '–'}
                    {q.signalAfter !== q.signalBefore ? <>→ {q.signalAfter ? <Signal state={q.signalAfter} size="small" /> : '–'}</> : null}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Head>Findings</Head>
      {run.findings.length === 0 ? <p className="text-ink-2">All {run.same} stay as they are.</p> : <Findings run={run} plan={plan} />}
      {run.findings.length > MAX_FINDINGS ? <p className="text-sm text-ink-2">and {run.findings.length - MAX_FINDINGS} more</p> : null}
      <Head>Persons</Head>
      {sides.length === 0 ? (
        <p className="text-ink-2">{plural(run.persons.after.persons, 'person', 'persons')}, the same as before.</p>
      ) : (
        <p>
          {sides.map(([key, name], i) => (
            <span key={key}>
              {i > 0 ? '; ' : ''}
              {name} <span className="figures">{count(run.persons.before[key])}</span> →{' '}
              <b className="figures">{count(run.persons.after[key])}</b>
            </span>
          ))}
        </p>
      )}
      {run.signOffs && run.signOffs.length > 0 ? (
        <>
          <Head>Sign-offs that would fall</Head>
          <ul>
            {run.signOffs.map((s) => (
              <li key={s.questionId}>
                {s.text}{' '}
                <span className="text-sm text-ink-2">
                  signed off by {s.author}: {s.because}
                </span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {run.alerts && run.alerts.length > 0 ? (
        <>
          <Head>Rules of alerts that it touches</Head>
          <ul>
            {run.alerts.map((a) => (
              <li key={a.name}>
                {a.name}{' '}
                <span className="text-sm text-ink-2">
                  <Rich text={a.because} />
                </span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {run.touched.length > 0 ? (
        <>
          <Head>What the change touches</Head>
          <ul>
            {run.touched.map((t) => (
              <li key={`${t.kind} ${t.id}`} className="flex gap-2 border-b border-dotted border-rule">
                <button
                  type="button"
                  className="min-h-[24px] min-w-0 truncate text-left underline decoration-dotted hover:text-accent"
                  onClick={() => go(...(t.kind === 'question' ? places.question(t.id) : places.opened('definition', t.id)))}
                >
                  {t.label}
                </button>
                <span className="ml-auto max-w-[45%] truncate wire text-sm text-ink-2">{t.by.join(', ')}</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {run.limits.map((l) => (
        <p key={l.what} className="mt-1 text-sm">
          {l.what}: {l.before} → <b>{l.after}</b> of {l.limit}
        </p>
      ))}
    </div>
  );
};
