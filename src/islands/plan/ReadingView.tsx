/** The plan for newcomers: when each event fires, with a sample, who owns it, whom to ask, how often it arrives. It prints well. */
import { useQuery } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { useMemo, useState } from 'react';
import { entries, isLive, settingsOf, type Id, type Plan } from '../../core/plan/plan';
import { plannedPropertiesOf } from '../../core/plan/plan-index';
import { questionsServedBy } from '../../core/questions/coverage';
import { Button } from '../../ui/Button';
import { count, plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { ask } from '../../client/api';
import { refOfProperty, refText } from '../../core/plan/property-path';

const BY = ['flow', 'object', 'question', 'source'] as const;

const groupsOf = (plan: Plan, id: Id, by: (typeof BY)[number]): string[] => {
  const e = plan.event[id]!;
  switch (by) {
    case 'flow':
      return [e.flow || 'No flow'];
    case 'object':
      return [e.object || 'No object'];
    case 'source':
      return e.sources.length === 0 ? ['No source'] : e.sources.map((s) => plan.source[s.sourceId]?.name ?? '');
    case 'question': {
      const served = questionsServedBy(plan, e.name).map(([, q]) => q.text);
      return served.length === 0 ? ['No question'] : served;
    }
  }
};

const arrivalText = (n: number | undefined): string =>
  n === undefined
    ? ''
    : n === 0
      ? 'Not received in the last seven days.'
      : `Arrived ${plural(n, 'time')} in the last seven days, about ${count(Math.round(n / 7))} a day.`;

const EventText = ({ plan, id, arrived }: { plan: Plan; id: Id; arrived: number | undefined }) => {
  const e = plan.event[id]!;
  const planned = plannedPropertiesOf(plan, id);
  return (
    <article className="mb-5 break-inside-avoid">
      <h3 className="wire text-[1.05rem] font-bold">{e.name}</h3>
      <p>{e.description || <span className="text-ink-2">Not described yet.</span>}</p>
      <p>
        <b>Trigger:</b> {e.trigger || <span className="text-ink-2">not written yet</span>}
        {e.scope ? (
          <>
            {' '}
            Only on pages under <span className="wire">{e.scope}</span>.
          </>
        ) : null}
        {e.oncePer ? ` At most once per ${e.oncePer}.` : ''}
      </p>
      {planned.length > 0 ? (
        <p>
          <b>Carries:</b>{' '}
          {planned.map((p, i) => (
            <span key={p.id}>
              {i > 0 ? ', ' : ''}
              <span className="wire">{refText(refOfProperty(p.property))}</span>
              <span className="text-ink-2">
                {p.property.samples[0] ? ` such as ${p.property.samples[0]}` : ''}
                {p.property.unit && p.property.unit !== 'count' ? ` ${p.property.unit}` : ''}
              </span>
            </span>
          ))}
        </p>
      ) : null}
      <p className="text-ink-2">
        {e.sources.length > 0 ? `Sent by ${e.sources.map((s) => plan.source[s.sourceId]?.name).join(', ')}. ` : 'No source sends it yet. '}
        {e.owner ? `Ask ${e.owner}. ` : 'No owner yet. '}
        {arrivalText(arrived)}
      </p>
    </article>
  );
};

export const ReadingView = ({ plan }: { plan: Plan }) => {
  const [by, setBy] = useState<(typeof BY)[number]>('flow');
  const [search, setSearch] = useState('');
  const { data } = useQuery({
    queryKey: ['arrived'],
    queryFn: ({ signal }) => ask('GET /api/arrived', {}, signal),
    staleTime: 30_000,
  });
  const groups = useMemo(() => {
    const needle = search.toLowerCase();
    const out = new Map<string, Id[]>();
    for (const [id, e] of entries(plan, 'event').sort(([, a], [, b]) => a.order - b.order)) {
      if (!isLive(e) || !`${e.name} ${e.description} ${e.trigger}`.toLowerCase().includes(needle)) continue;
      for (const g of groupsOf(plan, id, by)) out.set(g, [...(out.get(g) ?? []), id]);
    }
    return [...out];
  }, [plan, by, search]);
  return (
    <div className="reading max-w-[800px] px-8 py-5">
      <div className="mb-4 flex items-center gap-3 print:hidden">
        <input
          aria-label="Search the events"
          placeholder="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          className="w-44 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
        <label className="flex items-center gap-1 text-ink-2">
          read by
          <select
            value={by}
            onChange={(e) => setBy(e.target.value as (typeof BY)[number])}
            className="border border-rule bg-paper py-0.5 text-ink"
          >
            {BY.map((b) => (
              <option key={b}>{b}</option>
            ))}
          </select>
        </label>
        <Button look="quiet" className="mr-7 ml-auto" onClick={() => print()}>
          <Printer size={15} /> Print
        </Button>
      </div>
      <h1 className="text-[1.5rem] font-bold">{settingsOf(plan).name}: tracked events</h1>
      <p className="mb-4 text-ink-2">
        Names in this typeface are sent exactly as written. If something is unclear, ask the owner named with the event.
      </p>
      {groups.length === 0 ? <Empty title="No event.">{search ? 'No event matches.' : 'The plan has no event yet.'}</Empty> : null}
      {groups.map(([title, ids]) => (
        <section key={title} className="mb-6">
          <h2 className="mb-2 border-b border-ink text-[1.15rem] font-bold">{title}</h2>
          {ids.map((id) => (
            <EventText key={id} plan={plan} id={id} arrived={data ? (data[plan.event[id]!.name] ?? 0) : undefined} />
          ))}
        </section>
      ))}
    </div>
  );
};
