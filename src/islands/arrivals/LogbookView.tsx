/** The logbook of one person: found by any identifier; what they did, in order, with their user properties at each moment. */
import { Age } from '../../ui/Age';
import { useQuery } from '@tanstack/react-query';
import type { LiveMessage } from '../../core/arrival/live-message';
import { settingsOf } from '../../core/plan/plan';
import type { IdentifierNode } from '../../core/table/nodes';
import { moneyText } from '../../ui/amount';
import { count, dayText, instantText, plural } from '../../ui/format';
import { Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from '../workplace/context';
import { IdentifierFinder } from './IdentifierFinder';
import { places } from '../workplace/place';
import { LogbookTimeline } from './LogbookTimeline';

const span = (ms: number): string => {
  const minutes = Math.round(ms / 60_000);
  return minutes >= 60 ? `${count(Math.floor(minutes / 60))} h ${minutes % 60} min` : `${minutes} min`;
};

const Fact = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div className="border-l border-rule pl-3">
    <dt className="text-sm text-ink-2">{name}</dt>
    <dd className="font-semibold">{children}</dd>
  </div>
);

export const LogbookView = ({
  identifier,
  chosen,
  onChoose,
}: {
  identifier: IdentifierNode | undefined;
  chosen: number | undefined;
  onChoose: (m: LiveMessage) => void;
}) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data, error, refetch } = useQuery({
    queryKey: ['logbook', identifier?.kind, identifier?.value],
    queryFn: ({ signal }) => ask('GET /api/logbook', { query: { kind: identifier!.kind, value: identifier!.value } }, signal),
    enabled: identifier !== undefined,
    retry: false,
    refetchInterval: 15_000,
  });
  if (!identifier)
    return (
      <div className="px-6 py-4">
        <h1 className="mb-1 text-[1.2rem] font-bold">Logbook of a person</h1>
        <p className="mb-3 max-w-[60ch] text-ink-2">
          Everything one person sent, over all sources, in order. Find the person by any identifier; Enter opens the first match.
        </p>
        <IdentifierFinder small={false} />
      </div>
    );
  if (error && !data)
    return (
      <div>
        <div className="px-6 pt-4">
          <IdentifierFinder small={false} />
        </div>
        <Failed what="The logbook" error={error} retry={() => void refetch()} />
      </div>
    );
  if (!data) return <Loading what="the logbook" />;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <header className="px-6 pt-3 pb-2">
        <div className="flex items-center gap-4 pr-8">
          <h1 className="min-w-0 truncate wire text-[1.15rem] font-bold">{identifier.value}</h1>
          <span className="ml-auto">
            <IdentifierFinder small />
          </span>
        </div>
        <dl className="mt-2 flex flex-wrap gap-x-5 gap-y-2">
          <Fact name="first seen">
            <span title={instantText(data.firstAt)}>{dayText(data.firstAt, timeZone)}</span>
          </Fact>
          <Fact name="last seen">
            <span title={instantText(data.lastAt)}>
              <Age at={data.lastAt} />
            </span>
          </Fact>
          <Fact name="messages">{count(data.messages)}</Fact>
          <Fact name="sessions">{count(data.sessions)}</Fact>
          <Fact name="time in use">{span(data.inUseMs)}</Fact>
          {data.money.map((m) => (
            <Fact key={`${m.eventName} ${m.property} ${m.currency}`} name={`${m.property}, in all`}>
              <span title={`${plural(m.messages, 'message')} of ${m.eventName}`}>{moneyText(m.sum, m.currency)}</span>
            </Fact>
          ))}
          {data.userProperties.map((p) => (
            <Fact key={p.name} name={`${p.name}, now`}>
              <span className="wire">{String(p.value)}</span>
            </Fact>
          ))}
        </dl>
        <p className="mt-2 text-sm text-ink-2">
          Known by{' '}
          {data.identifiers.slice(0, 6).map((i, n) => (
            <span key={`${i.kind} ${i.value}`}>
              {n > 0 ? ', ' : ''}
              {i.kind}{' '}
              <button type="button" className="wire text-ink hover:text-accent" onClick={() => go(...places.logbook(i))}>
                {i.value}
              </button>{' '}
              ({count(i.messages)})
            </span>
          ))}
          {data.identifiers.length > 6 ? ` and ${count(data.identifiers.length - 6)} more` : ''}
          {data.links.length > 0
            ? `; joined by ${plural(data.links.length, 'link')}, the first on ${dayText(Math.min(...data.links.map((l) => l.firstAt)), timeZone)}.`
            : '.'}
        </p>
      </header>
      <LogbookTimeline key={`${identifier.kind} ${identifier.value}`} book={data} chosen={chosen} onChoose={onChoose} />
    </div>
  );
};
