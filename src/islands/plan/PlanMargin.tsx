/** The margin of the plan: the findings of the chosen row with their mends, its place in the chain, and what is said about it. */
import { buildStateOf } from '../../core/arrival/seen';
import type { ShownFinding } from '../../core/lint/lint';
import { unexcept } from '../../core/plan/fields/rule-settings';
import { ruleOf } from '../../core/lint/lint';
import { entries, labelOf, settingsOf, type Id, type Kind, type Plan } from '../../core/plan/plan';
import { eventNamed } from '../../core/plan/plan-index';
import { referencesTo } from '../../core/plan/references';
import { questionsServedBy } from '../../core/questions/coverage';
import { carriersOf } from '../../core/plan/plan-index';
import { CopyName } from '../../ui/CopyName';
import { MarginPart } from '../../ui/Frame';
import { SourceMark } from '../../ui/SourceMark';
import { useWorkplace } from '../workplace/context';
import { useSeen } from './use-seen';
import { Comments } from './Comments';
import { FindingNote } from './FindingNote';
import { refOfProperty } from '../../core/plan/property-path';

const LINK = 'block min-h-[24px] py-0.5 text-left underline decoration-dotted hover:text-accent';

const Served = ({ plan, kind, id }: { plan: Plan; kind: 'event' | 'property'; id: Id }) => {
  const { go } = useWorkplace();
  const events = kind === 'event' ? [id] : carriersOf(plan, id);
  const name = kind === 'property' && plan.property[id] ? refOfProperty(plan.property[id]) : undefined;
  const served = [...new Map(events.flatMap((e) => questionsServedBy(plan, plan.event[e]?.name ?? '', name)))];
  return (
    <MarginPart title="Serves">
      {served.map(([qid, q]) => (
        <button key={qid} type="button" className={LINK} onClick={() => go('questions', qid)}>
          {q.text}
        </button>
      ))}
      {served.length === 0 ? (
        <p className="text-ink-2">
          {plan[kind][id]?.keepReason ? `No question. Kept: ${plan[kind][id].keepReason}` : 'No question uses it by name.'}
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

/** What the library of a source adds by itself, beside what those of the other sources add. */
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

const MOST_SHOWN = 14;

const References = ({ plan, kind, id }: { plan: Plan; kind: Kind; id: Id }) => {
  const { go } = useWorkplace();
  const all = referencesTo(plan, kind, id).filter((r) => r.kind !== 'question');
  if (all.length === 0)
    return kind === 'event' ? null : (
      <MarginPart title="Used by">
        <p className="text-ink-2">Nothing refers to it.</p>
      </MarginPart>
    );
  return (
    <MarginPart title={kind === 'event' ? 'Confirms' : 'Used by'}>
      {all.slice(0, MOST_SHOWN).map((r) => (
        <button
          key={`${r.kind} ${r.id} ${r.how}`}
          type="button"
          title={r.how}
          className={`${LINK} wire`}
          onClick={() => go('plan', `${r.kind}:${r.id}`)}
        >
          {r.label}
        </button>
      ))}
      {all.length > MOST_SHOWN ? <p className="text-sm text-ink-2">and {all.length - MOST_SHOWN} more</p> : null}
    </MarginPart>
  );
};

const Excepted = ({ plan, kind, id }: { plan: Plan; kind: Kind; id: Id }) => {
  const { store } = useWorkplace();
  const all = Object.entries(settingsOf(plan).rules).flatMap(([code, set]) =>
    (set.exceptions ?? []).filter((x) => x.kind === kind && x.id === id).map((x) => ({ code, reason: x.reason })),
  );
  if (all.length === 0) return null;
  return (
    <MarginPart title="Exceptions">
      {all.map((x) => (
        <p key={x.code} className="border-b border-dotted border-rule py-1">
          {ruleOf(x.code)?.title}: <span className="text-ink-2">{x.reason}</span>{' '}
          <button
            type="button"
            className="min-h-[24px] text-sm text-ink-2 underline decoration-dotted hover:text-accent"
            onClick={() => {
              const edits = unexcept(plan, x.code, kind, id);
              if (typeof edits !== 'string') store.apply(edits, 'Exception taken back');
            }}
          >
            take it back
          </button>
        </p>
      ))}
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
        onClick={() => go('plan', `event:${confirming[0]}`)}
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
  findings: readonly ShownFinding[];
  typing: boolean;
}) => {
  const body = id === undefined ? undefined : plan[kind][id];
  if (id === undefined || !body) return <p className="text-ink-2">Choose a row to see what is found about it.</p>;
  const own = findings.filter((f) => f.path[0] === kind && f.path[1] === id);
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
            <p className="text-clear">Nothing found.</p>
          ) : (
            own.map((f) => <FindingNote key={`${f.code} ${f.path.join(' ')}`} finding={f} typing={typing} />)
          )}
        </div>
      </MarginPart>
      <Excepted plan={plan} kind={kind} id={id} />
      {kind === 'event' ? (
        <>
          <Confirmation plan={plan} id={id} />
          <SentBy plan={plan} id={id} />
        </>
      ) : null}
      {kind === 'source' ? <Automatic plan={plan} id={id} /> : null}
      {kind === 'event' || kind === 'property' ? <Served plan={plan} kind={kind} id={id} /> : null}
      <References plan={plan} kind={kind} id={id} />
      <MarginPart title="Said about it">
        <Comments key={id} kind={kind} id={id} />
      </MarginPart>
    </>
  );
};
