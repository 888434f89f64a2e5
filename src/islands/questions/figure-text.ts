/** A figure in one number or word, and what that is about. */
import type { Figure, FigureOf } from '../../core/questions/figure';
import { amountText } from '../../ui/amount';
import { count, dayText, lagText, percent, plural, decimal } from '../../ui/format';

/** A share; `undefined` without anything to be a share of. */
export const shareOf = (n: number, of: number): number | undefined => (of === 0 ? undefined : n / of);

/** What is dated before the first period or day looked at, or after now; empty where nothing is. */
export const outsideText = ({ outside: { before, after } }: Pick<Figure, 'outside'>): string =>
  [
    before > 0 ? `${plural(before, 'message')} dated before the first period shown ${before === 1 ? 'is' : 'are'} not counted. ` : '',
    after > 0 ? `${plural(after, 'message')} dated after now ${after === 1 ? 'is' : 'are'} not counted. ` : '',
  ].join('');

/** What of the figure is not measured; empty where all of it is. */
export const measuredText = (f: Pick<Figure, 'measuredFrom' | 'askedFrom'>, timeZone: string): string => {
  const { measuredFrom: from, askedFrom: asked } = f;
  if (from === undefined) return '';
  const days = (ms: number): string => plural(Math.max(0, Math.round(ms / 86_400_000)), 'day');
  return (
    `Measured from ${dayText(from, timeZone)} on: a definition that it uses begins then. Before that it is not measured, which is not zero. ` +
    (asked === undefined ? '' : `The window asked for begins ${days(from - asked)} earlier; only the measured part is counted. `)
  );
};

/** What counts only because clocks of two sources may differ. */
export const toleranceText = (f: Pick<FigureOf<'conversion'>, 'byTolerance' | 'toleranceMs'>): string =>
  f.byTolerance === 0
    ? ''
    : `For ${plural(f.byTolerance, 'person')} a step from another source is dated up to ${lagText(f.toleranceMs)} before the step it follows. It counts, because two clocks never agree exactly. `;

export const headline = (f: Figure | undefined, unit = ''): string => {
  if (!f) return '–';
  switch (f.type) {
    case 'active persons':
      return f.latest ? count(f.latest.persons) : '–';
    case 'average per person':
      return f.latest?.value === undefined ? '–' : decimal(f.latest.value);
    case 'total of a property':
      return f.latest?.sum === undefined ? '–' : amountText(f.latest.sum, unit);
    case 'top values':
      return f.ranked[0] ? String(f.ranked[0].value) : '–';
    default:
      return percent(f.share);
  }
};

/** A period in words: a day alone, or its first and last day. */
export const periodText = (p: { from: number; to: number }, timeZone: string): string =>
  p.to - p.from < 90_000_000 ? dayText(p.from, timeZone) : `${dayText(p.from, timeZone)} to ${dayText(p.to - 1, timeZone)}`;

export const headlineNote = (f: Figure | undefined, timeZone: string): string => {
  if (!f) return 'no formula yet';
  switch (f.type) {
    case 'active persons':
      if (f.latest)
        return f.rollingDays
          ? `persons in the ${f.rollingDays} days to ${dayText(f.latest.from, timeZone)}`
          : `persons, ${periodText(f.latest, timeZone)}`;
      return f.points.length > 0 ? 'the first period is not over' : 'nothing arrived';
    case 'average per person':
      return f.latest
        ? `per person, ${periodText(f.latest, timeZone)}`
        : f.points.length > 0
          ? 'the first period is not over'
          : 'nothing arrived';
    case 'total of a property':
      return f.latest
        ? `in all, ${periodText(f.latest, timeZone)}`
        : f.points.length > 0
          ? 'the first period is not over'
          : 'nothing arrived';
    case 'top values':
      return f.ranked[0] ? `leads with ${percent(f.ranked[0].share)} of ${count(f.total)}` : 'nothing arrived';
    case 'conversion':
      return f.share === undefined
        ? 'nobody did the first step'
        : `${count(f.steps.at(-1)!.persons)} of ${plural(f.steps[0]!.persons, 'person')}`;
    case 'retention':
      return f.share === undefined ? 'nobody’s day is over yet' : `${count(f.returned)} of ${plural(f.size, 'person')} came back`;
    case 'share who also did':
      return f.share === undefined ? 'nobody did the first' : `${count(f.both)} of ${plural(f.first, 'person')}`;
    case 'rate of a value':
      return f.share === undefined ? 'nothing arrived' : `${count(f.hits)} of ${count(f.total)} ${f.of}`;
  }
};
