/** The worst signal of each of the last eight weeks' days, told by height too, for whoever does not tell the colours apart. */
import { signalsByDay } from '../../core/clearance/sign-off-shown';
import { periodsBetween } from '../../core/questions/calendar';
import { DAY_MS } from '../../core/time';
import { dayText } from '../../ui/format';
import { SIGNAL_WORDS } from '../../ui/Signal';

const DAYS = 56;
const STRIP = { stop: 'bg-stop', caution: 'bg-caution-fill', open: 'bg-rule', clear: 'bg-clear' } as const;
const HEIGHT = { stop: 'h-1.5', caution: 'h-2.5', open: 'h-2', clear: 'h-3.5' } as const;

interface Shown {
  readonly signals: Parameters<typeof signalsByDay>[0];
  readonly timeZone: string;
  readonly weekStartsOn: number;
  /** UTC epoch ms. */
  readonly now: number;
}

export const DayStrip = ({ signals, timeZone, weekStartsOn, now }: Shown) => {
  const { starts } = periodsBetween('day', now - (DAYS - 1) * DAY_MS, now, timeZone, weekStartsOn);
  const days = signalsByDay(signals, starts, now);
  const told = days.filter((d) => d !== undefined).length;
  return (
    <div className="flex flex-wrap items-end gap-x-3 text-sm text-ink-2">
      <div
        role="img"
        aria-label={`The worst signal of each day, followed for ${told} of ${DAYS} days`}
        className="flex h-3.5 items-end gap-px"
      >
        {days.map((s, i) => (
          <span
            key={starts[i]}
            title={`${dayText(starts[i]!, timeZone)}: ${s ? SIGNAL_WORDS[s].toLowerCase() : 'not followed yet'}`}
            className={`w-[4px] print:[print-color-adjust:exact] ${s ? `${STRIP[s]} ${HEIGHT[s]}` : 'h-px bg-rule'}`}
          />
        ))}
      </div>
      <span>{told === 0 ? 'Its signal is followed from today on.' : 'the worst signal of each day, low where it is bad'}</span>
    </div>
  );
};
