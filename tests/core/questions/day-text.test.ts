/** Days as people write them, and instants in a zone against the calendar of the platform. */
import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { dayShown, instantAt, readDay } from '../../../src/core/questions/day-text';

const days = fc
  .date({ min: new Date('1970-01-01'), max: new Date('2100-12-31'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));

describe('a day in words', () => {
  it('is read again as it is shown', () => {
    fc.assert(
      fc.property(days, (day) => {
        expect(readDay(dayShown(day), 1999)).toBe(day);
        expect(readDay(day, 1999)).toBe(day);
      }),
    );
  });

  test.each([
    ['5 Oct 2026', '2026-10-05'],
    [' 5 october ', '2025-10-05'],
    ['5 September 2024', '2024-09-05'],
    ['5 Oct 26', undefined],
    ['29 Feb 2024', '2024-02-29'],
    ['2026-3-7', '2026-03-07'],
    ['29 Feb 2025', undefined],
    ['31 Jun', undefined],
    ['5/10/2026', undefined],
    ['05.10.2026', undefined],
    ['5 Octopus 2026', undefined],
    ['tomorrow', undefined],
    ['', undefined],
  ])('“%s” is %s', (text, day) => expect(readDay(text, 2025)).toBe(day));
});

describe('an instant of a day and a time', () => {
  const zones = fc.constantFrom('Europe/London', 'America/New_York', 'Asia/Kathmandu', 'Pacific/Apia', 'Africa/Casablanca', 'UTC');
  it('is that day and time on a clock of the zone, but where clocks change', () => {
    fc.assert(
      fc.property(days, zones, fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }), (day, timeZone, h, m) => {
        const at = instantAt(day, `${h}:${String(m).padStart(2, '0')}`, timeZone)!;
        const clock = new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'short' });
        const wanted = `${day} ${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`;
        // An hour before and after it the zone has the same offset: no clock changes here.
        const offset = (t: number): number => Date.parse(`${clock.format(t).replace(' ', 'T')}Z`) - Math.floor(t / 60_000) * 60_000;
        fc.pre(offset(at - 86_400_000) === offset(at + 86_400_000));
        expect(clock.format(at)).toBe(wanted);
      }),
    );
  });

  it('where the clocks go forward, is the time after the gap', () => {
    expect(new Date(instantAt('2026-03-29', '01:30', 'Europe/London')!).toISOString()).toBe('2026-03-29T01:30:00.000Z');
  });

  test.each(['24:00', '7', '12:60', '', 'noon'])('“%s” is no time', (time) => expect(instantAt('2026-10-05', time, 'UTC')).toBeUndefined());
  it('wants a day that there is', () => expect(instantAt('2026-02-30', '12:00', 'UTC')).toBeUndefined());
});
