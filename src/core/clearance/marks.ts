/** What happened to a question, as marks on the time axis of its figure. */
import type { SignOff } from './sign-off';
import type { SignalSince } from './sign-off-shown';

export interface FigureMark {
  /** UTC epoch ms. */
  readonly at: number;
  readonly text: string;
}

const MAX_MARKS = 12;

/** Sign-offs, their falls, and when the signal went to stop or came back from it; the newest ones, in the order of time. */
export const marksOf = (signOffs: readonly Pick<SignOff, 'at' | 'fellAt'>[], signals: readonly SignalSince[]): FigureMark[] =>
  [
    ...signOffs.flatMap((s) => [{ at: s.at, text: 'signed off' }, ...(s.fellAt === null ? [] : [{ at: s.fellAt, text: 'sign-off fell' }])]),
    ...signals.flatMap((s, i) => {
      const before = signals[i - 1]?.signal;
      // What it was when it began to be followed is no change.
      if (before === undefined || before === s.signal) return [];
      return s.signal === 'stop' ? [{ at: s.at, text: 'stop' }] : before === 'stop' ? [{ at: s.at, text: `${s.signal} again` }] : [];
    }),
  ]
    .sort((a, b) => a.at - b.at)
    .slice(-MAX_MARKS);

/** Marks by the period that they fall into: those of one period are said together. */
export const marksByPeriod = (
  marks: readonly FigureMark[],
  periods: readonly { readonly from: number; readonly to: number }[],
): { readonly index: number; readonly text: string }[] => {
  const byIndex = new Map<number, string[]>();
  for (const m of marks) {
    const index = periods.findIndex((p) => m.at >= p.from && m.at < p.to);
    if (index >= 0) byIndex.set(index, [...(byIndex.get(index) ?? []), m.text]);
  }
  return [...byIndex].map(([index, texts]) => ({ index, text: [...new Set(texts)].join(', ') }));
};
