/** The Hand-off station: exactly what to build, for engineers, and how far it is. */
import { Check, Download } from 'lucide-react';
import { heldBackBy } from '../../core/formats/ticket';
import { stopsByEvent } from '../../core/hand-off/stops';
import { entries } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { Frame, ListHead, ListRow, MarginPart } from '../../ui/Frame';
import { GroupedNav } from '../../ui/GroupedNav';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Loading } from '../../ui/States';
import { useDraft, useLintOf, usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { plural } from '../../ui/format';
import { later } from '../../ui/later';
import { useView } from '../arrivals/use-view';
import { HAND_OFF_VIEWS, handOffPlace } from './views';

const WriteKeys = later(() => import('./WriteKeys').then((m) => m.WriteKeys));
const EventBench = later(() => import('./EventBench').then((m) => m.EventBench), <Loading what="the ticket" />);
const HandOverPart = later(() => import('./HandOverPart').then((m) => m.HandOverPart));
const ProgressView = later(() => import('./ProgressView').then((m) => m.ProgressView), <Loading what="the progress" />);
const ChangesView = later(() => import('./ChangesView').then((m) => m.ChangesView), <Loading what="the changes" />);
const FilesView = later(() => import('./FilesView').then((m) => m.FilesView), <Loading what="the files" />);
const SourceView = later(() => import('./SourceView').then((m) => m.SourceView), <Loading what="the document" />);
const SourceMargin = later(() => import('./SourceView').then((m) => m.SourceMargin));

const LINK = 'text-accent hover:bg-wash flex items-center gap-2 py-1 font-semibold';

const HandOff = () => {
  const plan = usePlan();
  const { server } = useDraft();
  const { place, go } = useWorkplace();
  const at = handOffPlace(place.item);
  const { findings, plan: linted } = useLintOf(plan);
  const stops = stopsByEvent(findings);
  // Nothing is called ready before the rules of the plan were looked at.
  const isLooked = linted === plan;
  const events = entries(plan, 'event').sort(([, a], [, b]) => a.order - b.order);
  const sources = entries(plan, 'source');
  const defined = entries(plan, 'definition').filter(([, d]) => !d.retired && d.name !== '' && !events.some(([, e]) => e.name === d.name));
  const progress = useView('GET /api/progress', undefined, { enabled: at.is === 'event' });
  const eventId = at.is === 'event' ? (at.eventId !== undefined && plan.event[at.eventId] ? at.eventId : events[0]?.[0]) : undefined;
  const event = eventId === undefined ? undefined : plan.event[eventId];
  const ofEvent = event?.sources.map((s) => s.sourceId) ?? [];
  const wanted = at.is === 'event' ? at.sourceId : undefined;
  const sourceId = at.is === 'source' ? at.sourceId : (ofEvent.find((s) => s === wanted) ?? ofEvent[0]);
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const held = event ? heldBackBy(plan, event) : [];
  const stopping = eventId === undefined ? [] : (stops.get(eventId) ?? []);
  const chosen = at.is === 'view' ? at.view : at.is === 'source' ? `source ${at.sourceId}` : undefined;
  const list = (
    <>
      <ListHead title="Hand-off" note={plural(events.length, 'event')} />
      <GroupedNav
        label="Views of the hand-off"
        groups={[
          { title: 'All of it', entries: HAND_OFF_VIEWS },
          {
            title: 'What to build at',
            entries: sources.map(([id, s]) => ({
              id: `source ${id}`,
              title: s.name,
              note: <SourceMark letter={s.mark} kind={s.kind} name="" />,
            })),
          },
        ].filter((g) => g.entries.length > 0)}
        chosen={chosen}
        onChoose={(id) => go(...(id.startsWith('source ') ? places.handOffSource(id.slice(7)) : places.handOffView(id)))}
      />
      {events.length > 0 ? <h3 className="border-t border-rule px-4 pt-2 pb-1 text-sm font-semibold text-ink-2">Events</h3> : null}
      {events.map(([id, e]) => {
        const missing = heldBackBy(plan, e).length + (stops.get(id)?.length ?? 0);
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
                  <span className="text-caution">held back: {missing}</span>
                ) : isLooked ? (
                  <span className="flex items-center gap-1 text-clear">
                    <Check size={13} /> ready
                  </span>
                ) : null}
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
  if (at.is === 'view')
    return (
      <Frame list={list} listLabel="Events">
        {at.view === 'progress' ? <ProgressView /> : at.view === 'changes' ? <ChangesView /> : <FilesView />}
      </Frame>
    );
  if (at.is === 'source' && sourceId !== undefined && source)
    return (
      <Frame
        list={list}
        listLabel="Events"
        margin={
          <>
            <SourceMargin
              key={`margin ${sourceId}`}
              sourceId={sourceId}
              source={source}
              published={server?.published !== null && server?.published !== undefined}
            />
            <WriteKeys key={`keys ${sourceId}`} sourceId={sourceId} source={source} />
          </>
        }
      >
        <SourceView key={sourceId} sourceId={sourceId} />
      </Frame>
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
  const margin = (
    <>
      <MarginPart title={held.length + stopping.length > 0 ? 'Held back by' : isLooked ? 'Ready to build' : 'Being looked at'}>
        {held.length + stopping.length > 0 ? (
          <>
            {held.map((h) => (
              <p key={h} className="mb-1 border-l-4 border-caution-fill pl-2">
                <Rich text={h} /> missing
              </p>
            ))}
            {stopping.map((says) => (
              <p key={says} className="mb-1 border-l-4 border-stop pl-2">
                <Rich text={says} />
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
        ) : isLooked ? (
          <p className="text-clear">Trigger, sources, types, units and samples are complete, and no rule of the plan stops it.</p>
        ) : (
          <p className="text-ink-2">The rules of the plan are being looked at.</p>
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
      {source && sourceId !== undefined ? (
        <HandOverPart
          key={`${eventId} ${sourceId}`}
          eventId={eventId}
          sourceId={sourceId}
          pair={progress.data?.find((p) => p.eventId === eventId && p.sourceId === sourceId)}
          held={held.length > 0}
        />
      ) : null}
      {source && sourceId !== undefined ? <WriteKeys key={`keys ${sourceId}`} sourceId={sourceId} source={source} /> : null}
    </>
  );
  return (
    <Frame list={list} listLabel="Events" margin={margin}>
      <EventBench key={eventId} eventId={eventId} event={event} sourceId={sourceId} />
    </Frame>
  );
};

export default HandOff;
