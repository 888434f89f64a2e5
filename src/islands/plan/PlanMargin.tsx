/** The margin of the plan: the findings of the chosen row with their fixes, its place in the chain, and what is said about it. */
import { buildStateOf } from '../../core/arrival/seen';
import type { ShownFinding } from '../../core/lint/lint';
import { entries, labelOf, type Id, type Kind, type Plan } from '../../core/plan/plan';
import { eventNamed } from '../../core/plan/plan-index';
import { referencesTo, type Reference } from '../../core/plan/references';
import { questionsServedBy } from '../../core/questions/coverage';
import { carriersOf } from '../../core/plan/plan-index';
import { automaticEvents, buildOn } from '../../core/plan/automatic';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { useView } from '../arrivals/use-view';
import { CopyName } from '../../ui/CopyName';
import { MarginPart } from '../../ui/Frame';
import { SourceMark } from '../../ui/SourceMark';
import { useWorkplace } from '../workplace/context';
import { useSeen } from './use-seen';
import { Comments } from './Comments';
import { FindingNote } from './FindingNote';
import { later } from '../../ui/later';
import { places } from '../workplace/place';
import { refOfProperty } from '../../core/plan/property-path';

const Exceptions = later(() => import('./Exceptions').then((m) => m.Exceptions));

const LINK = 'block min-h-[24px] py-0.5 text-left underline decoration-dotted hover:text-accent';

const Served = ({ plan, kind, id }: { plan: Plan; kind: 'event' | 'property' | 'definition'; id: Id }) => {
  const { go } = useWorkplace();
  const events = kind === 'property' ? carriersOf(plan, id).map((e) => plan.event[e]?.name ?? '') : [plan[kind][id]?.name ?? ''];
  const name = kind === 'property' && plan.property[id] ? refOfProperty(plan.property[id]) : undefined;
  const served = [...new Map(events.flatMap((e) => questionsServedBy(plan, e, name)))];
  return (
    <MarginPart title="Serves">
      {served.map(([qid, q]) => (
        <button key={qid} type="button" className={LINK} onClick={() => go(...places.question(qid))}>
          {q.text}
        </button>
      ))}
      {served.length === 0 ? (
        <p className="text-ink-2">
          {plan[kind][id]?.keepReason ? `No question. Kept: ${plan[kind][id].keepReason}` : 'No question uses it.'}
        </p>
      ) : null}
    </MarginPart>
  );
};

const SentBy = ({ plan, id }: { plan: Plan; id: Id }) => {
  const seen = useSeen();
  return (
    <MarginPart title="Sent by">
      {plan.event[id]?.sources.map((s) => {
        const source = plan.source[s.sourceId];
        return source ? (
          <p key={s.sourceId} className="flex items-center gap-2 border-b border-dotted border-rule py-1">
            <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> {source.name}
            <span className="ml-auto text-sm text-ink-2">
              {s.required ? '' : 'optional, '}
              {buildStateOf(s, seen.of(id, s.sourceId))}
            </span>
          </p>
        ) : null;
      })}
      {plan.event[id]?.sources.length === 0 ? <p className="text-ink-2">No source yet.</p> : null}
    </MarginPart>
  );
};

/** What the library of a source adds on its own, beside what those of the other sources add. */
const Automatic = ({ plan, id }: { plan: Plan; id: Id }) => {
  const own = new Set(plan.source[id]?.automaticProperties);
  const others = entries(plan, 'source').filter(([sid]) => sid !== id);
  const names = [...new Set([...own, ...others.flatMap(([, s]) => s.automaticProperties)])].sort();
  if (names.length === 0) return null;
  return (
    <MarginPart title="Added by its library">
      {names.map((name) => (
        <p key={name} className="flex items-center gap-2 border-b border-dotted border-rule py-1">
          <span className={`wire ${own.has(name) ? '' : 'text-ink-2 line-through'}`}>{name}</span>
          {own.has(name) ? null : <span className="text-sm text-ink-2">not here</span>}
          <span className="ml-auto flex gap-1">
            {others
              .filter(([, s]) => s.automaticProperties.includes(name))
              .map(([sid, s]) => (
                <SourceMark key={sid} letter={s.mark} kind={s.kind} name={`${s.name} adds it too`} />
              ))}
          </span>
        </p>
      ))}
    </MarginPart>
  );
};

/** Events that the library of a source sends on its own: how many came from it, and what is built on them. */
const AutomaticEvents = ({ plan, id }: { plan: Plan; id: Id }) => {
  const { go, store } = useWorkplace();
  const own = plan.source[id]?.automaticEvents ?? [];
  const all = automaticEvents(plan);
  const { data } = useView('GET /api/arrived-names', {}, { enabled: all.size > 0 });
  if (all.size === 0) return null;
  const define = (name: string): void => {
    const made = buildOn(plan, name, () => crypto.randomUUID());
    if (store.apply(made.edits, `Began a definition over ${name}`)) go(...places.opened('definition', made.id));
  };
  return (
    <MarginPart title="Sent by its library">
      {[...all]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([name, sources]) => {
          const came = data?.find((n) => n.eventName === name)?.sources ?? [];
          const here = came.find((s) => s.sourceId === id)?.messages ?? 0;
          const listed = own.includes(name);
          if (!listed && here === 0 && own.length === 0) return null;
          return (
            <div key={name} className="border-b border-dotted border-rule py-1">
              <p className="flex items-center gap-2">
                <button
                  type="button"
                  className={`min-h-[24px] min-w-0 truncate wire underline decoration-dotted hover:text-accent ${listed ? '' : 'text-ink-2'}`}
                  onClick={() => go(...places.profile(name))}
                >
                  {name}
                </button>
                <span className="ml-auto flex gap-1">
                  {sources
                    .filter((s) => s !== id)
                    .map((s) => (
                      <SourceMark
                        key={s}
                        letter={plan.source[s]!.mark}
                        kind={plan.source[s]!.kind}
                        name={`${plan.source[s]!.name} sends it too`}
                      />
                    ))}
                </span>
                {listed ? (
                  <Button look="quiet" className="text-sm" onClick={() => define(name)}>
                    Build on it
                  </Button>
                ) : null}
              </p>
              <p className={`text-sm ${listed === here > 0 ? 'text-ink-2' : 'text-caution'}`}>
                {data === undefined
                  ? ''
                  : here === 0
                    ? listed
                      ? 'nothing came from here'
                      : 'not here'
                    : `${plural(here, 'message')} from here${listed ? '' : ', not listed here'}`}
              </p>
            </div>
          );
        })}
    </MarginPart>
  );
};

const MAX_SHOWN = 14;

const References = ({ plan, kind, id }: { plan: Plan; kind: Kind; id: Id }) => {
  const all = referencesTo(plan, kind, id).filter((r) => r.kind !== 'question');
  if (all.length === 0)
    return kind === 'event' ? null : (
      <MarginPart title="Used by">
        <p className="text-ink-2">Nothing uses it.</p>
      </MarginPart>
    );
  return (
    <>
      {kind === 'event' ? <ReferenceList title="Confirms" all={all.filter((r) => r.kind === 'event')} /> : null}
      <ReferenceList title="Used by" all={kind === 'event' ? all.filter((r) => r.kind !== 'event') : all} />
    </>
  );
};

const ReferenceList = ({ title, all }: { title: string; all: readonly Reference[] }) => {
  const { go } = useWorkplace();
  if (all.length === 0) return null;
  return (
    <MarginPart title={title}>
      {all.slice(0, MAX_SHOWN).map((r) => (
        <button
          key={`${r.kind} ${r.id} ${r.how}`}
          type="button"
          title={r.how}
          className={`${LINK} wire`}
          onClick={() => go(...places.row(r.kind, r.id))}
        >
          {r.label}
        </button>
      ))}
      {all.length > MAX_SHOWN ? <p className="text-sm text-ink-2">and {all.length - MAX_SHOWN} more</p> : null}
    </MarginPart>
  );
};

const Confirmation = ({ plan, id }: { plan: Plan; id: Id }) => {
  const { go } = useWorkplace();
  const counterpart = plan.event[id]?.counterpart;
  const confirming = counterpart && eventNamed(plan, counterpart.eventName);
  return counterpart && confirming ? (
    <MarginPart title="Confirmed by">
      <button
        type="button"
        className="min-h-[24px] wire underline decoration-dotted hover:text-accent"
        onClick={() => go(...places.row('event', confirming[0]))}
      >
        {counterpart.eventName}
      </button>
      <span className="text-ink-2">
        {' '}
        by <span className="wire">{counterpart.keyProperty}</span> within {counterpart.windowMs / 1000} s
      </span>
    </MarginPart>
  ) : null;
};

export const PlanMargin = ({
  plan,
  kind,
  id,
  findings,
  typing,
}: {
  plan: Plan;
  kind: Kind;
  id: Id | undefined;
  /** Left out before the rules have run. */
  findings: readonly ShownFinding[] | undefined;
  typing: boolean;
}) => {
  const body = id === undefined ? undefined : plan[kind][id];
  if (id === undefined || !body) return <p className="text-ink-2">Select a row to see its issues.</p>;
  const own = (findings ?? []).filter((f) => f.path[0] === kind && f.path[1] === id);
  const name = labelOf(kind, body);
  return (
    <>
      <p className="mb-3 flex items-start gap-1 pr-6 wire text-[1.05rem] font-semibold break-words">
        <span className="min-w-0 flex-1">{name || '(no name yet)'}</span>
        {name ? <CopyName name={name} /> : null}
      </p>
      <MarginPart title={own.length === 0 ? 'Findings' : `Findings (${own.length})`}>
        <div aria-live="polite">
          {own.length === 0 ? (
            findings === undefined ? (
              <p className="text-ink-2">Looking …</p>
            ) : (
              <p className="text-clear">No issues.</p>
            )
          ) : (
            own.map((f) => <FindingNote key={`${f.code} ${f.path.join(' ')}`} finding={f} typing={typing} />)
          )}
        </div>
      </MarginPart>
      <Exceptions plan={plan} kind={kind} id={id} />
      {kind === 'event' ? (
        <>
          <Confirmation plan={plan} id={id} />
          <SentBy plan={plan} id={id} />
        </>
      ) : null}
      {kind === 'source' ? (
        <>
          <Automatic plan={plan} id={id} />
          <AutomaticEvents plan={plan} id={id} />
        </>
      ) : null}
      {kind === 'event' || kind === 'property' || kind === 'definition' ? <Served plan={plan} kind={kind} id={id} /> : null}
      <References plan={plan} kind={kind} id={id} />
      <MarginPart title="Comments">
        <Comments key={id} kind={kind} id={id} />
      </MarginPart>
    </>
  );
};
