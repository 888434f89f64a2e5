/** The figure of a formula: computed on the server, with progress, dropped when the formula changes. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { settingsOf } from '../../core/plan/plan';
import { unitOf } from '../../core/questions/unit-of';
import type { FigureAnswer } from '../../core/questions/compute-figure';
import type { Formula } from '../../core/questions/formula';
import { count, decimal, percent, plural, twoDecimals } from '../../ui/format';
import { ProgressBar } from '../../ui/ProgressBar';
import { Button } from '../../ui/Button';
import { Failed, Loading } from '../../ui/States';
import { COUNTING_BASES, type CountingBasis } from '../../core/identity/counting-basis';
import { askSteps, type Progress } from '../../client/api';
import { usePlan } from '../workplace/context';
import { FigureView } from './FigureView';
import { headline, headlineNote } from './figure-text';
import { refText } from '../../core/plan/property-path';

const periodOf = (f: Formula) => ('period' in f ? f.period : undefined);
const measureOf = (f: Formula): string =>
  f.type === 'top values' ? (f.measure === 'sum' ? `sum of ${refText(f.sumOf ?? '')}` : f.measure) : 'amount';

const isShare = (f: Formula): boolean =>
  f.type === 'conversion' || f.type === 'retention' || f.type === 'share who also did' || f.type === 'rate of a value';

const Groups = ({ answer, formula }: { answer: FigureAnswer; formula: Formula }) => {
  if (!answer.groups) return null;
  const share = isShare(formula);
  return (
    <section aria-label="By group" className="mt-5">
      <h3 className="mb-1 font-semibold">By {refText(formula.groupBy?.name ?? '')}</h3>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="pb-1 font-medium">group</th>
            <th className="w-28 pb-1 text-right font-medium">figure</th>
            <th className="w-28 pb-1 text-right font-medium">per person</th>
            <th className="w-28 pb-1 text-right font-medium">messages</th>
            <th className="w-28 pb-1 text-right font-medium">persons</th>
          </tr>
        </thead>
        <tbody>
          {answer.groups.map((g) => (
            <tr key={`${typeof g.value} ${String(g.value)}`} className="border-t border-rule">
              <th scope="row" className="py-1 text-left wire font-medium">
                {g.value === undefined ? <span className="font-sans text-ink-2">not set</span> : String(g.value)}
              </th>
              <td className="text-right font-semibold figures">
                {g.headline === undefined ? '–' : share ? percent(g.headline) : decimal(g.headline)}
              </td>
              <td className="text-right figures">{g.perPerson === undefined ? '–' : twoDecimals(g.perPerson)}</td>
              <td className="text-right text-ink-2 figures">{count(g.messages)}</td>
              <td className="text-right text-ink-2 figures">{count(g.persons)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-sm text-ink-2">
        Ranked by events per person: totals mislead where groups differ in size.
        {answer.moreGroups > 0 ? ` ${plural(answer.moreGroups, 'smaller group')} not shown.` : ''}
      </p>
    </section>
  );
};

const Reach = ({ answer }: { answer: FigureAnswer }) => (
  <table className="mt-4 border-collapse text-sm">
    <caption className="sr-only">Messages, sessions and persons</caption>
    <thead>
      <tr className="text-right text-ink-2">
        <th className="pr-6 text-left font-medium">counted from</th>
        <th className="pl-5 font-medium">messages</th>
        <th className="pl-5 font-medium">sessions with it</th>
        <th className="pl-5 font-medium">persons</th>
      </tr>
    </thead>
    <tbody>
      {answer.reach.map((r) => (
        <tr key={r.eventName} className="border-t border-rule text-right figures">
          <th scope="row" className="py-0.5 pr-6 text-left wire font-medium">
            {r.eventName}
          </th>
          <td>{count(r.messages)}</td>
          <td>{count(r.sessions)}</td>
          <td>{count(r.persons)}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** After leaving out those who did X nothing of X may be left: otherwise the figure says something else than its sentence. */
const Controls = ({ answer }: { answer: FigureAnswer }) => (
  <>
    {answer.controls.map((c) => {
      const clean = c.left === 0 && c.alike.length === 0 && c.traces.length === 0;
      return (
        <p key={c.eventName} className={`mb-2 border-l-4 pl-3 ${clean ? 'border-clear' : 'border-caution-fill'}`}>
          Control: after leaving out, {c.left === 0 ? 'no message' : plural(c.left, 'message')} of{' '}
          <span className="wire">{c.eventName}</span> {c.left === 1 ? 'is' : 'are'} left
          {c.left > 0 ? `; ${c.left === 1 ? 'it belongs' : 'they belong'} to nobody` : ''}.
          {c.alike.map((a) => (
            <span key={a.name}>
              {' '}
              But {plural(a.messages, 'message')} of <span className="wire">{a.name}</span> {a.messages === 1 ? 'is' : 'are'}: is that the
              same?
            </span>
          ))}
          {c.traces.map((t) => (
            <span key={t.eventName}>
              {' '}
              A trace of it is left: {plural(t.people, 'person', 'persons')} who {t.people === 1 ? 'stays' : 'stay'} in did{' '}
              <span className="wire">{t.eventName}</span>,{' '}
              {t.shared > 0
                ? `which shares ${plural(t.shared, 'message')} with it`
                : `which lies within five seconds of ${percent(t.near / t.acts, 0)} of it`}
              .
            </span>
          ))}
          {c.notCompared.length > 0 ? (
            <span className="text-ink-2"> Not compared, for their number: {c.notCompared.join(', ')}.</span>
          ) : null}
        </p>
      );
    })}
  </>
);

export const QuestionFigure = ({ formula }: { formula: Formula }) => {
  const plan = usePlan();
  const { timeZone } = settingsOf(plan);
  const unit = unitOf(plan, formula);
  const queries = useQueryClient();
  const [progress, setProgress] = useState<Progress | undefined>();
  const [stopped, setStopped] = useState<Formula | undefined>();
  const [basis, setBasis] = useState<CountingBasis>('fully linked');
  const { data, error, isPending, isFetching, refetch } = useQuery({
    queryKey: ['clearance', 'figure', formula, basis],
    queryFn: ({ signal }) => askSteps('POST /api/figure', { body: { formula, basis } }, setProgress, signal),
    placeholderData: keepPreviousData,
    enabled: stopped !== formula,
  });
  if (stopped === formula && !data)
    return (
      <p className="mt-5 text-ink-2">
        Counting was cancelled. <Button onClick={() => setStopped(undefined)}>Count again</Button>
      </p>
    );
  if (isPending)
    return (
      <div>
        <Loading what="the figure" />
        {progress ? (
          <p className="flex items-center gap-3 text-sm text-ink-2">
            <ProgressBar done={progress.done} total={progress.total} label="Counting" className="w-48" />
            <Button
              look="quiet"
              onClick={() => {
                setStopped(formula);
                void queries.cancelQueries({ queryKey: ['clearance', 'figure', formula] });
              }}
            >
              Stop
            </Button>
          </p>
        ) : null}
      </div>
    );
  if (error) return <Failed what="The figure" error={error} retry={() => void refetch()} />;
  if (!data || data.figure.type !== formula.type) return null;
  return (
    <section aria-label="Figure" aria-busy={isFetching} className="mt-5">
      <p className="mb-2 flex items-baseline gap-3">
        <span className="text-[2.1rem] leading-none font-bold">{headline(data.figure, unit)}</span>
        <span className="text-ink-2">{headlineNote(data.figure, timeZone)}, as it arrived, under the draft</span>
        <label className="text-sm text-ink-2">
          persons{' '}
          <select
            aria-label="Counting basis"
            value={basis}
            onChange={(e) => setBasis(e.target.value as CountingBasis)}
            className={`border border-rule bg-paper ${basis === 'fully linked' ? '' : 'border-accent font-semibold text-ink'}`}
          >
            {COUNTING_BASES.map((b) => (
              <option key={b}>{b}</option>
            ))}
          </select>
        </label>
        {data.unfiltered ? (
          <span className="ml-auto text-right text-sm text-ink-2">
            without the filter <b className="text-ink">{headline(data.unfiltered, unit)}</b>
          </span>
        ) : null}
      </p>
      <Controls answer={data} />
      <FigureView
        figure={data.figure}
        timeZone={timeZone}
        period={periodOf(formula)}
        height={190}
        measure={measureOf(formula)}
        unit={unit}
      />
      <Groups answer={data} formula={formula} />
      <Reach answer={data} />
    </section>
  );
};
