/** The margin of the plan: the findings of the chosen row with their mends, and its place in the chain. */
import { lintMend, lintMessage, ruleOf, type LintFinding } from '../../core/lint/lint';
import { entries, findEvent, propertiesOf, type Id, type Plan } from '../../core/plan/plan';
import { questionsServedBy } from '../../core/questions/coverage';
import { Button } from '../../ui/Button';
import { MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { useWorkplace } from '../workplace/context';

const TONE = { stop: 'border-stop', caution: 'border-caution-fill', note: 'border-ink-2' } as const;
const WORD = { stop: 'text-stop', caution: 'text-caution', note: 'text-ink-2' } as const;

export const FindingNote = ({ finding, typing }: { finding: LintFinding; typing: boolean }) => {
  const { store } = useWorkplace();
  const mend = lintMend(finding);
  const rule = ruleOf(finding.code);
  return (
    <div className={`mb-2.5 border-l-4 pl-2.5 ${TONE[finding.severity]}`}>
      <p>
        <span className={`text-sm font-semibold ${WORD[finding.severity]}`}>{finding.severity}</span> <Rich text={lintMessage(finding)} />
      </p>
      <p className="text-sm text-ink-2">{rule?.why}</p>
      {mend && finding.fix ? (
        <Button
          className="mt-1 max-w-full overflow-hidden !px-2 text-left text-sm whitespace-normal"
          disabled={typing}
          onClick={() => store.apply(finding.fix!, `Mended: ${rule?.title ?? finding.code}`)}
        >
          <span>
            <Rich text={mend} />
          </span>
        </Button>
      ) : null}
    </div>
  );
};

const Chain = ({ plan, kind, id }: { plan: Plan; kind: 'event' | 'property' | 'source'; id: Id }) => {
  const { go } = useWorkplace();
  const events =
    kind === 'event'
      ? [[id, plan.event[id]!] as const]
      : entries(plan, 'event').filter(([, e]) =>
          kind === 'source' ? e.sources.some((s) => s.sourceId === id) : propertiesOf(plan, e).some((p) => p.id === id),
        );
  const property = kind === 'property' ? plan.property[id]?.name : undefined;
  const served = [...new Map(events.flatMap(([, e]) => questionsServedBy(plan, e.name, property))).entries()];
  return (
    <>
      {kind === 'event' ? (
        <MarginPart title="Sent by">
          {plan.event[id]!.sources.map((s) => {
            const source = plan.source[s.sourceId];
            return source ? (
              <p key={s.sourceId} className="flex items-center gap-2 border-b border-dotted border-rule py-1">
                <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> {source.name}{' '}
                <span className="ml-auto text-sm text-ink-2">{s.build}</span>
              </p>
            ) : null;
          })}
          {plan.event[id]!.sources.length === 0 ? <p className="text-ink-2">No source yet.</p> : null}
        </MarginPart>
      ) : (
        <MarginPart title={kind === 'source' ? 'Sends' : 'Carried by'}>
          {events.map(([eid, e]) => (
            <button
              key={eid}
              type="button"
              className="block min-h-[24px] text-left wire underline decoration-dotted hover:text-accent"
              onClick={() => go('plan', `event:${eid}`)}
            >
              {e.name}
            </button>
          ))}
          {events.length === 0 ? <p className="text-ink-2">No event.</p> : null}
        </MarginPart>
      )}
      <MarginPart title="Serves">
        {served.map(([qid, q]) => (
          <button
            key={qid}
            type="button"
            className="block min-h-[24px] py-0.5 text-left underline decoration-dotted hover:text-accent"
            onClick={() => go('questions', qid)}
          >
            {q.text}
          </button>
        ))}
        {served.length === 0 ? <p className="text-ink-2">No question uses it by name.</p> : null}
      </MarginPart>
    </>
  );
};

export const PlanMargin = ({
  plan,
  kind,
  id,
  findings,
  typing,
}: {
  plan: Plan;
  kind: 'event' | 'property' | 'source';
  id: Id | undefined;
  findings: readonly LintFinding[];
  typing: boolean;
}) => {
  const { go } = useWorkplace();
  const body = id === undefined ? undefined : plan[kind][id];
  if (id === undefined || !body) return <p className="text-ink-2">Choose a row to see what is found about it.</p>;
  const own = findings.filter((f) => f.path[0] === kind && f.path[1] === id);
  const counterpart = kind === 'event' ? plan.event[id]?.counterpart : undefined;
  const confirming = counterpart && findEvent(plan, counterpart.eventName);
  return (
    <>
      <p className="mb-3 wire text-[1.05rem] font-semibold break-words">{body.name || '(no name yet)'}</p>
      <MarginPart title={own.length === 0 ? 'Findings' : `Findings (${own.length})`}>
        <div aria-live="polite">
          {own.length === 0 ? (
            <p className="text-clear">Nothing found.</p>
          ) : (
            own.map((f) => <FindingNote key={`${f.code} ${lintMessage(f)}`} finding={f} typing={typing} />)
          )}
        </div>
      </MarginPart>
      {counterpart && confirming ? (
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
      ) : null}
      <Chain plan={plan} kind={kind} id={id} />
    </>
  );
};
