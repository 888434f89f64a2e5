/** What the pages for readers share: their frame, a number with its interval, moments. */
import type { ReactNode } from 'react';
import type { Answer } from '../../core/clearance/answer';
import type { SinceWhen } from '../../core/clearance/gate';
import { dayShown } from '../../core/questions/day-text';
import { amountText } from '../../ui/amount';
import { count, dayText, decimal, percent, timeText } from '../../ui/format';
import { headline, headlineNote } from '../questions/figure-text';

export const LINK = 'text-accent underline decoration-dotted';

export const momentText = (at: number, timeZone: string): string => `${dayText(at, timeZone)}, ${timeText(at, timeZone).slice(0, 5)}`;

export const answerHref = (questionId: string): string => `/answers/${encodeURIComponent(questionId)}`;

interface Page {
  readonly workspace: string;
  readonly here: 'answers' | 'question' | 'glossary';
  readonly children: ReactNode;
}

export const sinceText = ({ at, atLeast }: SinceWhen, timeZone: string): string =>
  `${atLeast ? 'at least since' : 'since'} ${dayText(at, timeZone)}`;

/** No station line: whoever reads need not know the rest. */
export const ReaderPage = ({ workspace, here, children }: Page) => (
  <main className="mx-auto max-w-[860px] px-5 py-6 sm:px-8">
    <div className="mb-5 flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-ink pb-2">
      <span className="font-bold">{workspace}</span>
      <nav aria-label="For readers" className="flex gap-5 print:hidden">
        {here === 'answers' ? (
          <span className="min-h-[24px] font-semibold">Answers</span>
        ) : (
          <a href="/answers" className={`min-h-[24px] ${LINK}`}>
            Answers
          </a>
        )}
        {here === 'glossary' ? (
          <span className="min-h-[24px] font-semibold">Glossary</span>
        ) : (
          <a href="/answers/glossary" className={`min-h-[24px] ${LINK}`}>
            Glossary
          </a>
        )}
      </nav>
    </div>
    {children}
  </main>
);

/** A value as the figure of its question is written. */
export const valueText = (a: Pick<Answer, 'isShare' | 'unit'>, value: number): string =>
  a.isShare ? percent(value) : a.unit === '' ? decimal(value) : amountText(value, a.unit);

export const boundText = ({ bound, isShare, unit }: Pick<Answer, 'bound' | 'isShare' | 'unit'>): string =>
  bound === null
    ? ''
    : `Nobody can know whether ${count(bound.alone)} user ${bound.alone === 1 ? 'ID' : 'IDs'} that nothing else was linked to and ${count(bound.trails)} ${bound.trails === 1 ? 'trail' : 'trails'} without one are the same people: it lies between ${valueText({ isShare, unit }, bound.low)} and ${valueText({ isShare, unit }, bound.high)}.`;

const SAME = 1e-9;

/** The figure as it would be; nothing where there is nothing to put right. */
export const CorrectedLine = ({ of: a, withSteps = false }: { of: Answer; withSteps?: boolean }) => {
  const { corrected, value } = a;
  if (!corrected) return null;
  const isSame = value !== null && Math.abs(corrected.value - value) <= SAME * Math.max(1, Math.abs(value));
  return (
    <p>
      {isSame ? (
        'What is known to be wrong and can be put right does not change it'
      ) : value !== null && valueText(a, corrected.value) === valueText(a, value) ? (
        'What is known to be wrong and can be put right changes it by less than is shown'
      ) : (
        <>
          With what is known to be wrong put right {a.figure?.type === 'top values' ? 'the first value would count' : 'it would be'}{' '}
          <b>{valueText(a, corrected.value)}</b>
        </>
      )}
      {withSteps
        ? `: ${corrected.steps.map((s) => `${s.title.toLowerCase()} (${count(s.messages)})`).join(', ')}. The messages stay as they came.`
        : '.'}
    </p>
  );
};

/** The figure, and what it is of. */
export const figureText = (a: Answer): string => headline(a.figure ?? undefined, a.unit);
export const figureNote = (a: Answer, timeZone: string): string => (a.figure ? headlineNote(a.figure, timeZone) : 'no figure yet');

export const intervalText = ({ interval }: Pick<Answer, 'interval'>): string =>
  interval ? `${percent(interval.low)} to ${percent(interval.high)} with 95 % confidence` : '';

export const completeText = ({ completeUpTo }: Pick<Answer, 'completeUpTo'>): string =>
  completeUpTo === null ? '' : `complete up to ${dayShown(completeUpTo)}`;

/** What a reader is told to do with it. */
export const ADVICE = {
  stop: 'Do not rely on this figure.',
  caution: 'Use it with what is said below in mind.',
  clear: 'It can be relied on.',
  open: 'Nobody can say yet whether it can be relied on.',
} as const;
