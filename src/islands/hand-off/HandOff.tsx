/** The Hand-off station: exactly what to build, for engineers. */
import { Check, Copy, Download } from 'lucide-react';
import { useMemo, useState } from 'react';
import { heldBackBy, sampleMessage } from '../../core/formats/ticket';
import { ticketMarkdown } from '../../core/formats/event-ticket';
import { entries, type Plan, type PlanEvent, type Source } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { Frame, ListHead, ListRow, MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { copy } from './clipboard';
import { places, partsOf } from '../workplace/place';
import { plural } from '../../ui/format';
import { later } from '../../ui/later';

/** The text itself, line by line, with headings and tables set apart so that it reads as it will be read in a ticket. */
const WriteKeys = later(() => import('./WriteKeys').then((m) => m.WriteKeys));

const TicketText = ({ text }: { text: string }) => {
  const blocks = useMemo(() => text.trimEnd().split(/\n{2,}/), [text]);
  return (
    <div className="max-w-[720px]">
      {blocks.map((b, i) => {
        if (b.startsWith('# '))
          return (
            <h1 key={i} className="mb-2 text-[1.5rem] font-bold">
              {b.slice(2)}
            </h1>
          );
        if (b.startsWith('## '))
          return (
            <h2 key={i} className="mt-4 mb-1.5 font-bold">
              {b.slice(3)}
            </h2>
          );
        if (b.startsWith('```'))
          return (
            <pre key={i} tabIndex={0} aria-label="Sample message" className="overflow-x-auto border border-rule bg-ground p-3 wire">
              {b.replace(/^```\w*\n|\n```$/g, '')}
            </pre>
          );
        if (b.startsWith('|')) return <TicketTable key={i} lines={b.split('\n')} />;
        return (
          <div key={i} className="my-1.5">
            {b.split('\n').map((line, j) => (
              <p key={j}>
                <Rich text={line.replaceAll('**', '')} />
              </p>
            ))}
          </div>
        );
      })}
    </div>
  );
};

const cellsOf = (line: string): string[] =>
  line
    .slice(1, -1)
    .split(/(?<!\\)\|/)
    .map((c) => c.trim().replaceAll('\\|', '|'));

const TicketTable = ({ lines }: { lines: readonly string[] }) => (
  <table className="w-full border-collapse text-[0.93rem]">
    <thead>
      <tr className="text-left text-ink-2">
        {cellsOf(lines[0]!).map((c) => (
          <th key={c} className="pr-3 pb-1 font-medium">
            {c}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {lines.slice(2).map((l) => (
        <tr key={l} className="border-t border-rule align-top">
          {cellsOf(l).map((c, i) => (
            <td key={i} className="py-1 pr-3">
              <Rich text={c} />
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
);

const httpSnippet = (plan: Plan, event: PlanEvent, source: Source | undefined): string =>
  `curl -X POST ${location.origin}/intake \\
  -H 'Authorization: Bearer {{write_key}}' \\
  -H 'Content-Type: application/json' \\
  -d '${JSON.stringify([sampleMessage(plan, event, source)], null, 2)}'`;

const LINK = 'text-accent hover:bg-wash flex items-center gap-2 py-1 font-semibold';

const HandOff = () => {
  const plan = usePlan();
  const { server } = useDraft();
  const { place, go } = useWorkplace();
  const [view, setView] = useState<'ticket' | 'call'>('ticket');
  const events = entries(plan, 'event').sort(([, a], [, b]) => a.order - b.order);
  const defined = entries(plan, 'definition').filter(([, d]) => !d.retired && d.name !== '' && !events.some(([, e]) => e.name === d.name));
  const [eventId = events[0]?.[0], wantedSource] = partsOf(place.item);
  const event = eventId === undefined ? undefined : plan.event[eventId];
  const sources = event?.sources.map((s) => s.sourceId) ?? [];
  const sourceId = sources.find((s) => s === wantedSource) ?? sources[0];
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const held = event ? heldBackBy(plan, event) : [];
  const list = (
    <>
      <ListHead title="Hand-off" note={plural(events.length, 'event')} />
      {events.map(([id, e]) => {
        const missing = heldBackBy(plan, e).length;
        return (
          <ListRow key={id} chosen={id === eventId} onChoose={() => go(...places.handOff(id))}>
            <span className="block wire font-medium">{e.name}</span>
            <span className="flex items-center gap-1.5 text-sm text-ink-2">
              {e.sources.map((s) => {
                const src = plan.source[s.sourceId];
                return src ? <SourceMark key={s.sourceId} letter={src.mark} kind={src.kind} name={src.name} /> : null;
              })}
              <span className="ml-auto">
                {missing > 0 ? (
                  <span className="text-caution">held back: {missing} missing</span>
                ) : (
                  <span className="flex items-center gap-1 text-clear">
                    <Check size={13} /> ready
                  </span>
                )}
              </span>
            </span>
          </ListRow>
        );
      })}
      {defined.length > 0 ? (
        <section aria-label="Defined, not sent">
          <h3 className="border-t border-rule px-4 pt-2 pb-1 text-sm font-bold text-ink-2">Defined, not sent: nothing to build</h3>
          {defined.map(([id, d]) => (
            <ListRow key={id} chosen={false} onChoose={() => go(...places.opened('definition', id))}>
              <span className="block wire font-medium">{d.name}</span>
            </ListRow>
          ))}
        </section>
      ) : null}
    </>
  );
  if (!event || eventId === undefined)
    return (
      <Frame list={list} listLabel="Events">
        <Empty title="Nothing to hand off yet.">
          Tickets, schemas and write keys come from the events and sources in the plan.
          <p className="mt-4">
            <Button look="full" onClick={() => go(...places.plan('event'))}>
              Go to the plan
            </Button>
          </p>
        </Empty>
      </Frame>
    );
  const ticket = ticketMarkdown(plan, eventId, sourceId);
  const call = httpSnippet(plan, event, source);
  const margin = (
    <>
      <MarginPart title={held.length > 0 ? 'Held back by' : 'Ready to build'}>
        {held.length > 0 ? (
          <>
            {held.map((h) => (
              <p key={h} className="mb-1 border-l-4 border-caution-fill pl-2">
                <Rich text={h} /> missing
              </p>
            ))}
            <button
              type="button"
              className="min-h-[24px] text-accent underline decoration-dotted"
              onClick={() => go(...places.row('event', eventId))}
            >
              Complete it in the plan
            </button>
          </>
        ) : (
          <p className="text-clear">Trigger, sources, types, units and samples are complete.</p>
        )}
      </MarginPart>
      <MarginPart title="Files for your build">
        <a className={LINK} href={`/api/schema/${encodeURIComponent(eventId)}`} download>
          <Download size={15} /> JSON Schema of this event
        </a>
        {server?.published ? (
          <a className={LINK} href="/api/plan.json" download>
            <Download size={15} /> Plan version {server.published.number}, JSON
          </a>
        ) : null}
        <a className={LINK} href="/api/plan.json?version=draft" download>
          <Download size={15} /> Draft, JSON
        </a>
      </MarginPart>
      {source && sourceId !== undefined ? <WriteKeys key={sourceId} sourceId={sourceId} source={source} /> : null}
    </>
  );
  return (
    <Frame list={list} listLabel="Events" margin={margin}>
      <div className="flex flex-wrap items-center gap-1 border-b border-rule py-1.5 pr-10 pl-7">
        {sources.map((s) => {
          const src = plan.source[s];
          return src ? (
            <button
              key={s}
              type="button"
              aria-pressed={s === sourceId}
              onClick={() => go(...places.handOff(eventId, s))}
              className={`flex items-center gap-1.5 border-b-2 px-2 py-1 ${s === sourceId ? 'border-accent font-semibold' : 'border-transparent hover:border-rule'}`}
            >
              <SourceMark letter={src.mark} kind={src.kind} name={src.name} /> {src.name}
            </button>
          ) : null;
        })}
        <span className="ml-auto flex gap-1">
          <Button look="quiet" onClick={() => setView(view === 'ticket' ? 'call' : 'ticket')}>
            {view === 'ticket' ? 'HTTP call' : 'Ticket'}
          </Button>
          <Button look="full" onClick={() => void copy(view === 'ticket' ? ticket : call, view === 'ticket' ? 'The ticket' : 'The call')}>
            <Copy size={14} /> Copy {view === 'ticket' ? 'ticket' : 'call'}
          </Button>
        </span>
      </div>
      <div className="px-7 py-5">
        {view === 'ticket' ? (
          <TicketText text={ticket} />
        ) : (
          <pre tabIndex={0} aria-label="HTTP call" className="overflow-x-auto border border-rule bg-ground p-3 wire">
            {call}
          </pre>
        )}
      </div>
    </Frame>
  );
};

export default HandOff;
