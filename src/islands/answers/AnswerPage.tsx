/** One answer in full, for whoever reads: what it means, what is wrong with it, what to use, how its signal went. Rendered by the server. */
import type { ReactNode } from 'react';
import type { AnswerShown } from '../../core/clearance/answer';
import { Rich } from '../../ui/Rich';
import { Signal, SIGNAL_TEXT, SIGNAL_WORDS } from '../../ui/Signal';
import { dayText } from '../../ui/format';
import { DayStrip } from '../clearance/DayStrip';
import {
  ADVICE,
  boundText,
  completeText,
  CorrectedLine,
  figureNote,
  figureText,
  intervalText,
  LINK,
  momentText,
  ReaderPage,
  sinceText,
} from './parts';

/** What is worked out that much before the figure says so. */
const OLD_MS = 600_000;

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section aria-label={title} className="mt-6 break-inside-avoid">
    <h2 className="mb-1 border-b border-rule pb-1 text-lg font-bold">{title}</h2>
    {children}
  </section>
);

export const AnswerPage = ({ shown, drawing, now }: { shown: AnswerShown; drawing?: ReactNode; now: number }) => {
  const { answer: a, timeZone, signOffs, waivers } = shown;
  if (!a)
    return (
      <ReaderPage workspace={shown.workspace} here="question">
        <h1 className="text-[1.5rem] font-bold">There is no such question</h1>
        <p className="mt-2">
          It may have been removed, or it is not published yet.{' '}
          <a href="/answers" className={LINK}>
            All answers
          </a>
        </p>
      </ReaderPage>
    );
  // It is noted anew whenever any gate changes.
  const changes = shown.signals.filter((s, i) => s.signal !== shown.signals[i - 1]?.signal);
  const moment = (at: number): string => momentText(at, timeZone);
  return (
    <ReaderPage workspace={shown.workspace} here="question">
      <div className="flex items-start gap-4">
        <Signal state={a.signal} size="large" label={null} />
        <div className="min-w-0">
          <h1 className="text-[1.5rem] leading-tight font-bold">{a.text || 'Not written yet'}</h1>
          <p className="mt-1">
            <b className={SIGNAL_TEXT[a.signal]}>{SIGNAL_WORDS[a.signal]}.</b> {ADVICE[a.signal]}
            {a.since === null ? '' : ` So ${sinceText(a.since, timeZone)}.`}
          </p>
        </div>
      </div>
      <div className="mt-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-y border-ink py-3">
        <span className={`text-[2.2rem] leading-none font-bold ${a.untrusted ? 'text-ink-2' : ''}`}>{figureText(a)}</span>
        {a.untrusted ? <b className="text-stop">Untrusted</b> : null}
        <span className="text-ink-2">
          {[figureNote(a, timeZone), intervalText(a), completeText(a)].filter(Boolean).join('; ')}. As it arrived, as of {moment(shown.at)}.
        </span>
      </div>
      <div className="mt-2">
        <CorrectedLine of={a} withSteps />
        {a.corrected && shown.at - a.corrected.at > OLD_MS ? (
          <p className="text-sm text-ink-2">Worked out at {moment(a.corrected.at)}.</p>
        ) : null}
        {a.bound ? <p className="mt-1">{boundText(a)}</p> : null}
      </div>
      <Part title="What it means">
        <p>{a.sentence || 'It has no formula yet.'}</p>
        {a.definition ? <p className="mt-1">{a.definition}</p> : null}
        <p className="mt-1 text-ink-2">
          {a.countsPeople
            ? 'People are counted once, under all identifiers that the identity rules link; traffic of tests and robots is left out. '
            : 'Messages are counted, not people; traffic of tests and robots is left out. '}
          Days, weeks and months are those of {timeZone}. Version {shown.version} of the plan is in force.
        </p>
        {a.decision ? <p className="mt-1">It serves: {a.decision}</p> : null}
        {a.owner ? <p className="mt-1">Ask {a.owner} about it.</p> : null}
      </Part>
      <Part title="What is wrong with it">
        {a.wrong.length === 0 ? <p className="text-ink-2">Nothing that is known of.</p> : null}
        <ul>
          {a.wrong.map((w) => (
            <li key={w.key} className="border-t border-rule py-1 first:border-t-0">
              <Rich text={w.sentence} />{' '}
              <span className="text-ink-2">
                Since {dayText(w.since, timeZone)}. To be fixed by {w.who}.
              </span>
            </li>
          ))}
        </ul>
        <table className="mt-3 w-full border-collapse">
          <caption className="sr-only">The gates</caption>
          <tbody>
            {a.gates.map((g) => (
              <tr key={g.gate} className="border-t border-rule align-top">
                <td className="w-8 py-1">
                  <Signal state={g.signal} size="small" label={SIGNAL_WORDS[g.signal]} />
                </td>
                <th scope="row" className="py-1 pr-3 text-left font-semibold capitalize">
                  {g.gate}
                </th>
                <td className="py-1">
                  <Rich text={g.says.replace(/\.$/, '')} />
                  {g.since === null || g.signal === 'clear' ? null : <span className="text-ink-2">; {sinceText(g.since, timeZone)}</span>}
                  {g.waived ? (
                    <span className="block text-sm">
                      <b className="text-caution">Waived</b> by {g.waived.author} until {dayText(g.waived.until - 1, timeZone)}:{' '}
                      {g.waived.reason}
                    </span>
                  ) : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Part>
      {drawing ? <Part title="The figure">{drawing}</Part> : null}
      <Part title="What to use">
        <dl className="grid grid-cols-1 sm:grid-cols-[240px_1fr] sm:gap-x-4">
          {a.use.map((t) => [
            <dt key={`${t.kind} ${t.name}`} className="wire break-words">
              {t.name}
              <span className="ml-2 font-sans text-sm text-ink-2">
                {t.kind}
                {t.unit ? `, ${t.unit}` : ''}
              </span>
            </dt>,
            <dd key={`${t.kind} ${t.name} says`} className="pb-1.5">
              <Rich text={t.says} />
              {t.care ? (
                <span className="text-caution">
                  {' '}
                  <Rich text={t.care} />
                </span>
              ) : null}
              {t.owner ? <span className="text-ink-2"> Ask {t.owner}.</span> : null}
            </dd>,
          ])}
        </dl>
        {a.use.length === 0 ? <p className="text-ink-2">Nothing yet: it has no formula.</p> : null}
      </Part>
      {a.avoid.length > 0 ? (
        <Part title="What to leave alone">
          <dl className="grid grid-cols-1 sm:grid-cols-[240px_1fr] sm:gap-x-4">
            {a.avoid.map((t) => [
              <dt key={t.name} className="wire break-words line-through decoration-stop">
                {t.name}
              </dt>,
              <dd key={`${t.name} why`} className="pb-1.5">
                <Rich text={t.why} />
              </dd>,
            ])}
          </dl>
        </Part>
      ) : null}
      <Part title="History">
        <DayStrip signals={shown.signals} timeZone={timeZone} weekStartsOn={shown.weekStartsOn} now={now} />
        <table className="mt-2 w-full border-collapse text-sm">
          <caption className="sr-only">Sign-offs, waivers, and changes of the signal, newest first</caption>
          <tbody>
            {[
              ...changes.map((s, i) => ({
                at: s.at,
                what: SIGNAL_WORDS[s.signal],
                says: i === 0 ? 'Followed since then.' : 'The signal changed.',
              })),
              ...signOffs.flatMap((s) => [
                { at: s.at, what: 'Signed off', says: `By ${s.author}, for version ${s.version}: ${s.note}` },
                ...(s.fellAt === null ? [] : [{ at: s.fellAt, what: 'Sign-off fell', says: s.because ?? '' }]),
              ]),
              ...waivers.map((w) => ({
                at: w.at,
                what: 'Waived',
                says: `“${w.gate}”, by ${w.author} until ${dayText(w.until - 1, timeZone)}: ${w.reason}`,
              })),
            ]
              .sort((x, y) => y.at - x.at)
              .slice(0, 100)
              .map((x) => (
                <tr key={`${x.at} ${x.what}`} className="border-t border-rule align-top">
                  <td className="w-[130px] py-1 whitespace-nowrap text-ink-2">{moment(x.at)}</td>
                  <th scope="row" className="w-[120px] py-1 pr-3 text-left font-semibold">
                    {x.what}
                  </th>
                  <td className="py-1">
                    <Rich text={x.says} />
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </Part>
    </ReaderPage>
  );
};
