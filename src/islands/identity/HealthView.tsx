/** Identity health: each figure with its examples, and containment drawn with true areas. */
import { rulesText, useRulesShown } from './rules-shown';
import { eulerOf } from '../../core/identity/euler';
import { useState } from 'react';
import type { Containment } from '../../core/identity/containment';
import type { KnownWeek } from '../../core/identity/health';
import { entries, settingsOf } from '../../core/plan/plan';
import { Bars } from '../../ui/Bars';
import { count, dayText, monthText, percent, plural } from '../../ui/format';
import { Empty, Failed, Loading } from '../../ui/States';
import { useView } from '../arrivals/use-view';
import { places } from '../workplace/place';
import { usePlan, useWorkplace } from '../workplace/context';

const SIZE = 116;

/** The base, and those with a user ID: areas as the numbers are. */
const Areas = ({ of }: { of: Containment }) => {
  if (of.inBase === 0 || of.withUserId === 0) return null;
  const e = eulerOf(of.inBase, of.withUserId, of.both);
  const left = Math.min(-e.a, e.distance - e.b);
  const right = Math.max(e.a, e.distance + e.b);
  const high = Math.max(e.a, e.b);
  const scale = SIZE / Math.max(right - left, 2 * high);
  const y = high * scale + 2;
  return (
    <svg
      width={(right - left) * scale + 4}
      height={2 * high * scale + 4}
      className="shrink-0"
      role="img"
      aria-label={`${count(of.both)} of ${count(of.inBase)} persons have a user ID`}
    >
      <title>Areas are to scale: the pale circle is the base, the solid one is persons with a user ID.</title>
      <circle cx={-left * scale + 2} cy={y} r={e.a * scale} fill="var(--wash)" stroke="var(--ink)" />
      <circle cx={(e.distance - left) * scale + 2} cy={y} r={e.b * scale} fill="var(--accent)" opacity="0.75" />
    </svg>
  );
};

const Value = ({ kind, value }: { kind: string; value: string }) => {
  const { go } = useWorkplace();
  return (
    <button
      type="button"
      className="min-h-[24px] max-w-full truncate text-left wire hover:text-accent"
      title={`Logbook of ${kind} ${value}`}
      onClick={() => go(...places.logbook({ kind, value }))}
    >
      {value || '(empty)'}
    </button>
  );
};

const Block = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <section className="min-w-0 border-t border-ink pt-2">
    <h2 className="font-bold">{title}</h2>
    {children}
  </section>
);

export const HealthView = () => {
  const shown = useRulesShown();
  const plan = usePlan();
  const { timeZone, currency, identity } = settingsOf(plan);
  const [base, setBase] = useState('');
  const { data: h, error, refetch } = useView('GET /api/identity-health', { base });
  if (error && !h) return <Failed what="The figures" error={error} retry={() => void refetch()} />;
  if (!h) return <Loading what="the figures" />;
  if (h.persons === 0) return <Empty title="No messages yet.">Figures about people start with the first message.</Empty>;
  const orphans = h.orphans.reduce((n, o) => n + o.count, 0);
  const max = Math.max(0.01, ...h.trend.map((w) => (w.userIds > 0 ? w.orphans / w.userIds : 0)));
  const month = h.active.find((a) => a.period === 'month');
  const bill = (n: number): string =>
    new Intl.NumberFormat('en-GB', { style: 'currency', currency: currency || 'EUR' }).format((n / 1000) * identity.pricePerThousand);
  return (
    <div className="px-7 py-5">
      <h1 className="pr-8 text-[1.5rem] leading-tight font-bold">Identity health</h1>
      <p className="mb-4 text-ink-2">Over all messages, under {rulesText(shown)}. Linking applies backwards; user properties do not.</p>
      <div className="grid grid-cols-2 gap-x-8 gap-y-5">
        <Block title="Persons with a user ID">
          <div className="mt-1 flex items-center gap-4">
            <Areas of={h.containment} />
            <div className="min-w-0">
              <p className="text-[1.5rem] leading-tight font-bold">
                {h.containment.inBase > 0 ? percent(h.containment.both / h.containment.inBase) : '–'}
              </p>
              <p className="text-ink-2">
                {count(h.containment.both)} of {count(h.containment.inBase)} persons with{' '}
                <select
                  aria-label="Base"
                  value={base}
                  onChange={(e) => setBase(e.target.value)}
                  className="w-full border border-rule bg-paper text-ink"
                >
                  <option value="">any message</option>
                  {entries(plan, 'event').map(([id, e]) => (
                    <option key={id}>{e.name}</option>
                  ))}
                </select>
              </p>
              <p className="mt-1 text-sm text-ink-2">
                {base === ''
                  ? `${plural(h.singleMessage, 'person')} of a single message, ${count(h.serverOnly)} known by servers alone.`
                  : `${count(h.containment.withUserId - h.containment.both)} with a user ID never did.`}
              </p>
              {h.containment.outsiders.length > 0 ? (
                <p className="flex gap-2 text-sm text-ink-2">
                  <span className="shrink-0">without one:</span>
                  {h.containment.outsiders.slice(0, 2).map((o) => (
                    <Value key={`${o.kind} ${o.value}`} {...o} />
                  ))}
                </p>
              ) : null}
            </div>
          </div>
        </Block>
        <Block title="Orphans">
          <p className="text-[1.5rem] leading-tight font-bold">
            {count(orphans)} <span className="text-base font-normal text-ink-2">of {count(h.userIds)} user IDs were never linked</span>
          </p>
          <ul>
            {h.orphans.map((o) => (
              <li key={o.reason} className="flex items-baseline gap-2">
                <b className="w-12 shrink-0 text-right figures">{count(o.count)}</b>
                <span className="shrink-0">{o.reason}:</span>
                {o.examples[0] ? <Value {...o.examples[0]} /> : null}
              </li>
            ))}
          </ul>
          <p className="mt-1 flex items-end gap-2 text-sm text-ink-2">
            <Bars
              bars={h.trend.map((w) => ({
                value: w.userIds > 0 ? w.orphans / w.userIds : 0,
                title: `week of ${dayText(w.at, timeZone)} ${w.orphans} of ${w.userIds}`,
              }))}
              label="Orphans among new user IDs"
              width={15}
              running
            />
            share of each week’s new user IDs, at most {percent(max)}
          </p>
        </Block>
        <Block title="Inflation">
          <p className="text-[1.5rem] leading-tight font-bold">
            {h.inflation === undefined ? '–' : `${h.inflation >= 0 ? '+' : '−'}${percent(Math.abs(h.inflation))}`}{' '}
            <span className="text-base font-normal text-ink-2">persons without linking</span>
          </p>
          <table className="w-full">
            <thead>
              <tr className="text-right text-sm text-ink-2">
                <th className="text-left font-medium">active persons</th>
                <th className="font-medium">device only</th>
                <th className="font-medium">user ID first</th>
                <th className="font-medium">linked</th>
              </tr>
            </thead>
            <tbody>
              {h.active.map((a) => (
                <tr key={a.period} className="border-t border-rule text-right figures">
                  <th className="text-left font-normal">
                    {a.period === 'month'
                      ? monthText(a.at, timeZone)
                      : a.period === 'week'
                        ? `week of ${dayText(a.at, timeZone)}`
                        : dayText(a.at, timeZone)}
                  </th>
                  <td>{count(a.persons['device only'])}</td>
                  <td>{count(a.persons['user ID first'])}</td>
                  <td className="pl-3 font-semibold">{count(a.persons['fully linked'])}</td>
                </tr>
              ))}
              {month && identity.pricePerThousand > 0 ? (
                <tr className="border-t border-rule text-right figures">
                  <th className="text-left font-normal">bill of the month</th>
                  <td>{bill(month.persons['device only'])}</td>
                  <td>{bill(month.persons['user ID first'])}</td>
                  <td className="font-semibold">{bill(month.persons['fully linked'])}</td>
                </tr>
              ) : null}
            </tbody>
          </table>
        </Block>
        <Block title="The last eight weeks">
          {(
            [
              ['persons with a user ID', (w: KnownWeek) => (w.persons > 0 ? w.withUserId / w.persons : 0), percent],
              ['persons too many without linking', (w: KnownWeek) => (w.persons > 0 ? w.unlinked / w.persons - 1 : 0), percent],
              ['persons', (w: KnownWeek) => w.persons, count],
            ] as const
          ).map(([label, of, text]) => (
            <p key={label} className="flex items-end gap-3 border-t border-rule py-1 first-of-type:border-t-0">
              <Bars
                bars={h.weeks.map((w) => ({ value: Math.max(0, of(w)), title: `week of ${dayText(w.at, timeZone)} ${text(of(w))}` }))}
                label={`${label}, by week`}
                width={13}
                running
              />
              <span className="text-ink-2">{label}</span>
              <b className="ml-auto shrink-0 whitespace-nowrap figures" title="The last whole week">
                {h.weeks.length > 1 ? text(of(h.weeks.at(-2)!)) : '–'}
              </b>
            </p>
          ))}
        </Block>
        <Block title="The user ID while signed in">
          <p>
            <b className="text-[1.5rem] leading-tight">
              {h.signedIn.messages > 0 ? percent(1 - h.signedIn.dropped / h.signedIn.messages) : '–'}
            </b>{' '}
            <span className="text-ink-2">
              of {count(h.signedIn.messages)} messages in signed-in stretches carry it; {count(h.signedIn.dropped)} dropped it.
            </span>
          </p>
          <ul>
            {h.dropped.slice(0, 3).map((d) => (
              <li key={`${d.sourceId} ${d.release}`} className="flex gap-2">
                <span>{plan.source[d.sourceId]?.name ?? d.sourceId}</span> <span className="wire">{d.release}</span>
                <span className="ml-auto figures">
                  {count(d.dropped)} of {count(d.messages)}, {percent(d.dropped / d.messages)}
                </span>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-sm text-ink-2">
            {h.latePages.pages === 0
              ? 'No page was sent with a user ID.'
              : `Late on ${count(h.latePages.late)} of ${plural(h.latePages.pages, 'page')}: the first message came before the ID.`}
          </p>
        </Block>
        <Block title="Shapes of identifiers">
          <table className="w-full">
            <tbody>
              {h.shapes.slice(0, 9).map((s) => (
                <tr key={`${s.kind} ${s.shape}`} className="border-t border-rule">
                  <td className="pr-2 text-ink-2">{s.kind}</td>
                  <td className="max-w-[150px] truncate pr-2 wire" title={`such as ${s.example}`}>
                    {s.shape}
                  </td>
                  <td className="pr-2 text-sm text-ink-2">{s.sources.map((x) => plan.source[x]?.mark ?? x).join(' ')}</td>
                  <td className="text-right figures">{count(s.count)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className={`mt-1 text-sm ${h.variants.groups > 0 ? 'text-caution' : 'text-ink-2'}`}>
            {h.variants.groups === 0
              ? 'None differ only in case or Unicode form.'
              : `${plural(h.variants.groups, 'identifier')} came in several spellings, kept apart: ${h.variants.examples
                  .map((v) => v.values.join(', '))
                  .join('; ')}.`}
          </p>
        </Block>
        <Block title="Too common to be one person">
          {h.overCommon.length + h.shared.length === 0 && !h.overgrown ? <p className="text-clear">None.</p> : null}
          <ul>
            {h.overgrown ? (
              <li className="flex items-baseline gap-2 text-caution">
                <span>the person of</span> <Value {...h.overgrown} />
                <span className="ml-auto shrink-0 figures">{plural(h.overgrown.identifiers, 'identifier')} in one</span>
              </li>
            ) : null}
            {h.overCommon.map((o) => (
              <li key={`${o.kind} ${o.value}`} className="flex items-baseline gap-2">
                <span className="text-ink-2">{o.kind}</span> <Value {...o} />
                <span className="ml-auto shrink-0 figures">{percent(o.share)} of all</span>
              </li>
            ))}
            {h.shared.map((o) => (
              <li key={`${o.kind} ${o.value}`} className="flex items-baseline gap-2">
                <span className="text-ink-2">{o.kind}</span> <Value {...o} />
                <span className="ml-auto shrink-0 figures">{plural(o.users, 'user ID')} on it</span>
              </li>
            ))}
          </ul>
        </Block>
      </div>
    </div>
  );
};
