/** For people who only read: every question, its figure, and whether it may be relied on. Rendered by the server, without a script. */
import { bySubject, type Answer, type Answers } from '../../core/clearance/answer';
import { Rich } from '../../ui/Rich';
import { Signal, SIGNAL_TEXT, SIGNAL_WORDS } from '../../ui/Signal';
import { plural, dayText } from '../../ui/format';
import {
  ADVICE,
  answerHref,
  completeText,
  figureNote,
  figureText,
  intervalText,
  momentText,
  CorrectedLine,
  ReaderPage,
  sinceText,
} from './parts';

const SignedLine = ({ of: { signOff }, timeZone }: { of: Answer; timeZone: string }) =>
  !signOff ? null : signOff.fellAt === null ? (
    <>
      Signed off by {signOff.author} on {dayText(signOff.at, timeZone)}.
    </>
  ) : (
    <>
      The sign-off of {signOff.author} fell on {dayText(signOff.fellAt, timeZone)}.
    </>
  );

const Row = ({ answer: a, timeZone }: { answer: Answer; timeZone: string }) => {
  const [worst, ...more] = a.wrong;
  const waived = a.gates.filter((g) => g.waived);
  return (
    <li className="break-inside-avoid border-t border-rule py-3">
      <div className="grid grid-cols-[28px_1fr] gap-x-3 sm:grid-cols-[28px_1fr_180px]">
        <Signal state={a.signal} label={null} />
        <div className="min-w-0">
          <h3 className="leading-snug font-semibold">
            <a href={answerHref(a.questionId)} className="hover:text-accent">
              {a.text || 'Not written yet'}
            </a>
          </h3>
          <p className="text-sm text-ink-2">{a.sentence || 'It has no formula yet.'}</p>
        </div>
        <p className="col-start-2 mt-1 sm:col-start-3 sm:row-span-2 sm:row-start-1 sm:mt-0 sm:text-right">
          <span className={`block text-[1.5rem] leading-tight font-bold ${a.untrusted ? 'text-ink-2' : ''}`}>{figureText(a)}</span>
          {a.untrusted ? <span className="block font-semibold text-stop">Untrusted</span> : null}
          <span className="block text-sm text-ink-2">{figureNote(a, timeZone)}</span>
        </p>
        <div className="col-start-2 mt-1 text-sm">
          <p>
            <b className={SIGNAL_TEXT[a.signal]}>{SIGNAL_WORDS[a.signal]}.</b> {ADVICE[a.signal]}{' '}
            {a.since === null ? '' : `So ${sinceText(a.since, timeZone)}. `}
            <span className="text-ink-2">
              {[completeText(a), intervalText(a)].filter(Boolean).map((t) => `${t[0]!.toUpperCase()}${t.slice(1)}. `)}
            </span>
            <SignedLine of={a} timeZone={timeZone} />
          </p>
          {worst ? (
            <p>
              <Rich text={worst.sentence} /> <span className="text-ink-2">Since {dayText(worst.since, timeZone)}.</span>
              {more.length > 0 ? <span className="text-ink-2"> And {more.length} more.</span> : null}
            </p>
          ) : null}
          {waived.map((g) => (
            <p key={g.gate}>
              <b className="text-caution">Waived:</b> {g.waived!.author} answers for “{g.gate}” until{' '}
              {dayText(g.waived!.until - 1, timeZone)}: {g.waived!.reason}
            </p>
          ))}
          <CorrectedLine of={a} />
        </div>
      </div>
    </li>
  );
};

export const AnswersPage = ({ all }: { all: Answers }) => {
  const { answers, timeZone } = all;
  const bad = answers.filter((a) => a.signal === 'stop').length;
  return (
    <ReaderPage workspace={all.workspace} here="answers">
      <h1 className="text-[1.75rem] leading-tight font-bold">Answers</h1>
      {answers.length === 0 ? (
        <p className="mt-2 text-ink-2">
          {all.version === 0
            ? 'Nothing can be read here yet: the plan has no published version whose questions were looked at. That takes a few minutes after publishing.'
            : 'The plan has no questions.'}
        </p>
      ) : (
        <p className="mt-1 text-ink-2">
          {plural(answers.length, 'question')}
          {bad > 0 ? (
            <>
              , <b className="text-stop">{bad} not to be relied on</b>
            </>
          ) : null}
          . As of {momentText(all.at, timeZone)} ({timeZone}), under version {all.version} of the plan. Days, weeks and months are those of{' '}
          {timeZone}; people are counted once, however many devices they use, as far as their identifiers can be linked.
        </p>
      )}
      {bySubject(answers).map(([subject, own]) => (
        <section key={subject} aria-label={subject || 'Other questions'} className="mt-6">
          <h2 className="pb-1 text-lg font-bold capitalize">{subject || 'Other questions'}</h2>
          <ul>
            {own.map((a) => (
              <Row key={a.questionId} answer={a} timeZone={timeZone} />
            ))}
          </ul>
        </section>
      ))}
    </ReaderPage>
  );
};
