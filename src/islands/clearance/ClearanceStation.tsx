/** The Clearance station: question by question, whether the answer may be relied on, with the evidence. */
import { Inbox } from 'lucide-react';
import { Fragment, useMemo, useState } from 'react';
import { affecting } from '../../core/clearance/affecting';
import { unitOf } from '../../core/questions/unit-of';
import type { Gate, Signal as SignalName } from '../../core/clearance/gate';
import type { QuestionClearance } from '../../core/clearance/question-clearance';
import { entries, settingsOf, type Id, type Question } from '../../core/plan/plan';
import { eventNamed } from '../../core/plan/plan-index';
import { needsOf } from '../../core/questions/coverage';
import { formulaSentence } from '../../core/questions/formulas/index';
import { Button } from '../../ui/Button';
import { count, dayText, instantText } from '../../ui/format';
import { Frame, ListHead, ListRow, MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { Signal, SIGNAL_TEXT, SIGNAL_WORDS } from '../../ui/Signal';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { FigureView } from '../questions/FigureView';
import { headline, headlineNote } from '../questions/figure-text';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { gateSince } from '../../core/clearance/sign-off-shown';
import { DayStrip } from './DayStrip';
import { useNow } from '../../ui/use-now';
import { marksOf } from '../../core/clearance/marks';
import { FigureMarks } from '../questions/figures/marks';
import { useClearances, useFindings, useOpenAlerts, useSignOffs } from '../workplace/queries';
import { places } from '../workplace/place';
import { wantedOf } from '../../core/clearance/wanted';
import { BridgeSum, BridgeView, useBridge } from './BridgeView';
import { later } from '../../ui/later';
import { RecheckProgress } from '../workplace/RecheckProgress';

/** Its calendar and its form come after the gates. */
const SignOffLine = later(
  () => import('./SignOffLine').then((m) => m.SignOffLine),
  <p className="py-2 text-ink-2">Looking for a sign-off …</p>,
);

const Share = later(() => import('./Share').then((m) => m.Share));

const AlertsView = later(() => import('./alerts/AlertsView').then((m) => m.AlertsView), <Loading what="the alerts" />);

const WhoIsTold = later(() => import('./alerts/WhoIsTold').then((m) => m.WhoIsTold));

const WaiveLine = later(() => import('./WaiveLine').then((m) => m.WaiveLine));

const ORDER: Record<SignalName, number> = { stop: 0, caution: 1, open: 2, clear: 3 };

/** A gate in one line; its numbers, its findings and what would raise it on demand. */
const GateRow = ({ questionId, gate, open, onOpen }: { questionId: Id; gate: Gate; open: boolean; onOpen: () => void }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const now = useNow();
  const history = gateSince(useSignOffs(questionId).data?.signals ?? [], gate.gate);
  const groups = useFindings().data?.groups;
  const found = groups?.filter((g) => gate.findings?.includes(g.key)) ?? [];
  const isHeld = gate.waived !== undefined || gate.signal === 'stop' || gate.signal === 'open';
  const more = isHeld || gate.brief !== undefined || (gate.numbers?.length ?? 0) + found.length + (gate.raise?.length ?? 0) > 0;
  return (
    <>
      <tr className="border-t border-rule align-top">
        <td className="w-9 py-1.5">
          <Signal state={gate.signal} label={null} />
        </td>
        <th scope="row" className="w-[112px] py-1.5 pr-3 text-left font-bold capitalize" title={gate.asks}>
          {gate.gate}
        </th>
        <td className="py-1.5 pr-3">
          {gate.waived ? (
            <span className="mr-0.5 font-semibold text-caution" title={gate.waived.reason}>
              Waived until {dayText(gate.waived.until - 1, timeZone)}, {SIGNAL_WORDS[gate.waived.from].toLowerCase()}.
            </span>
          ) : (
            <span className={`mr-0.5 font-semibold ${SIGNAL_TEXT[gate.signal]}`}>{SIGNAL_WORDS[gate.signal]}.</span>
          )}{' '}
          <Rich text={gate.brief ?? gate.evidence} />
          {open && gate.since ? (
            <span className="text-sm text-ink-2" title={instantText(gate.since.at)}>
              {' '}
              So {gate.since.atLeast ? 'at least since' : 'since'} {dayText(gate.since.at, timeZone)}.
            </span>
          ) : null}
        </td>
        <td className="w-[64px] py-1 text-right">
          {more ? (
            <button
              type="button"
              aria-expanded={open}
              aria-label={`Evidence of ${gate.gate}`}
              className="min-h-[26px] text-sm font-semibold text-accent underline decoration-dotted"
              onClick={onOpen}
            >
              {open ? 'less' : 'more'}
            </button>
          ) : null}
        </td>
      </tr>
      {open ? (
        <tr>
          <td />
          <td className="pb-2 align-top text-sm text-ink-2">{gate.asks}</td>
          <td colSpan={2} className="pb-2">
            {gate.brief === undefined ? null : (
              <p className="mb-1">
                <Rich text={gate.evidence} />
              </p>
            )}
            {gate.judgedAt === undefined ? null : (
              <p className="mb-1 text-ink-2" title={instantText(gate.judgedAt)}>
                Judged anew on {dayText(gate.judgedAt, timeZone)}.
              </p>
            )}
            {gate.numbers && gate.numbers.length > 0 ? (
              <dl className="grid grid-cols-[max-content_1fr] gap-x-4 text-sm">
                {gate.numbers.map((n) => (
                  <Fragment key={n.what}>
                    <dt className="text-ink-2">{n.what}</dt>
                    <dd className="font-semibold figures">{n.value}</dd>
                  </Fragment>
                ))}
              </dl>
            ) : null}
            {found.map((g) => (
              <button
                key={g.key}
                type="button"
                className="block min-h-[24px] py-0.5 text-left text-sm hover:text-accent"
                onClick={() => go(...places.finding(g.key))}
              >
                <b className={g.severity === 'stop' ? 'text-stop' : 'text-caution'}>{count(g.count)}</b> <Rich text={g.sentence} />
              </button>
            ))}
            {gate.raise && gate.raise.length > 0 ? (
              <p className="mt-1 text-sm">
                <b>To raise it:</b>{' '}
                {gate.raise.map((r, i) => (
                  <span key={`${r.who} ${r.text}`}>
                    {i > 0 ? ' ' : ''}
                    <Rich text={r.text} /> <span className="text-ink-2">({r.who})</span>
                  </span>
                ))}
              </p>
            ) : null}
            {history.length > 0 ? (
              <div className="mt-2">
                <DayStrip signals={history} timeZone={timeZone} weekStartsOn={weekStartsOn} now={now} />
              </div>
            ) : null}
            {isHeld ? <WaiveLine questionId={questionId} gate={gate} /> : null}
          </td>
        </tr>
      ) : null}
    </>
  );
};

const Bench = ({ question, clearance }: { question: Question; clearance: QuestionClearance }) => {
  const plan = usePlan();
  const { timeZone } = settingsOf(plan);
  const version = useDraft().server?.published?.number;
  const unit = unitOf(plan, question.formula);
  const { figure } = clearance;
  const judged = clearance.gates.filter((g) => g.signal !== 'open');
  const open = clearance.gates.length - judged.length;
  const [opened, setOpened] = useState<string>();
  const isShare = wantedOf(question.formula) === 'share';
  const signed = useSignOffs(clearance.questionId).data;
  const marks = useMemo(() => (signed ? marksOf(signed.signOffs, signed.signals) : []), [signed]);
  const held = useBridge(clearance.questionId, figure !== undefined && version !== undefined);
  return (
    <div className="px-7 py-5">
      <div className="flex items-start gap-4 pr-8">
        <Signal state={clearance.signal} size="large" />
        <div>
          <h1 className="text-[1.5rem] leading-tight font-bold">{question.text || 'Not written yet'}</h1>
          <p className="text-ink-2">{question.formula ? `${formulaSentence(question.formula)}.` : 'No formula yet.'}</p>
        </div>
      </div>
      <div className="mt-4 flex items-baseline gap-x-4 border-y border-ink py-3">
        <span className="text-[2.2rem] leading-none font-bold">{headline(figure, unit)}</span>
        <span className="text-ink-2">
          {headlineNote(figure, timeZone)}, as it arrived, under {version === undefined ? 'the draft' : `version ${version}`}
          <span className="mt-0.5 block text-ink">
            <BridgeSum held={held} isShare={isShare} />
          </span>
        </span>
        <span className={`ml-auto text-right font-semibold ${SIGNAL_TEXT[clearance.signal]}`}>
          {SIGNAL_WORDS[clearance.signal]}
          <span className="block text-sm font-normal text-ink-2">
            {judged.length} of {clearance.gates.length} gates judged
            {open > 0 && clearance.signal === 'open' && judged.length > 0 ? ', those are clear' : ''}
          </span>
        </span>
      </div>
      <SignOffLine clearance={clearance} />
      <table className="mt-1 w-full border-collapse">
        <caption className="sr-only">The seven gates</caption>
        <tbody>
          {clearance.gates.map((g) => (
            <GateRow
              key={g.gate}
              questionId={clearance.questionId}
              gate={g}
              open={opened === g.gate}
              onOpen={() => setOpened(opened === g.gate ? undefined : g.gate)}
            />
          ))}
        </tbody>
      </table>
      <BridgeView held={held} isShare={isShare} />
      {figure ? (
        <section aria-label="Figure" className="mt-4 border-t border-ink pt-4">
          <FigureMarks value={marks}>
            <FigureView
              unit={unit}
              figure={figure}
              timeZone={timeZone}
              period={question.formula && 'period' in question.formula ? question.formula.period : undefined}
            />
          </FigureMarks>
        </section>
      ) : null}
    </div>
  );
};

const Margin = ({ id, question }: { id: Id; question: Question }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const findings = useFindings().data;
  const needs = needsOf(question);
  const events = needs.map((n) => eventNamed(plan, n.eventName)?.[1]).filter((e) => e !== undefined);
  const names = new Set(needs.map((n) => n.eventName));
  const judged = useClearances().data?.find((c) => c.questionId === id);
  const touching = findings && judged ? affecting(findings.groups, names, judged.gates) : undefined;
  const sources = [...new Set(events.flatMap((e) => e.sources.map((s) => s.sourceId)))];
  return (
    <>
      <MarginPart title="The decision">
        <p>{question.decision || 'Not written down.'}</p>
        <button
          type="button"
          className="mt-1 min-h-[24px] text-accent underline decoration-dotted"
          onClick={() => go(...places.question(id))}
        >
          Open the question
        </button>
      </MarginPart>
      <MarginPart title="Needs">
        {needs.map((n) => {
          const found = eventNamed(plan, n.eventName);
          return (
            <button
              key={n.eventName}
              type="button"
              disabled={!found}
              className="block w-full border-b border-dotted border-rule py-1 text-left wire enabled:hover:text-accent"
              onClick={() => found && go(...places.row('event', found[0]))}
            >
              {n.eventName}
            </button>
          );
        })}
        {needs.length === 0 ? <p className="text-ink-2">Nothing yet.</p> : null}
      </MarginPart>
      <MarginPart title="Sent by">
        {sources.map((s) => {
          const source = plan.source[s];
          return source ? (
            <p key={s} className="flex items-center gap-2 border-b border-dotted border-rule py-1">
              <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> {source.name}
            </p>
          ) : null;
        })}
      </MarginPart>
      <MarginPart title="Told when it falls">
        <WhoIsTold id={id} question={question} />
      </MarginPart>
      <MarginPart title={touching ? `Findings that affect it (${touching.length})` : 'Findings that affect it'}>
        {touching ? null : <p className="text-sm text-ink-2">Looking …</p>}
        {touching?.map((g) => (
          <button
            key={g.key}
            type="button"
            className="block w-full border-b border-dotted border-rule py-1 text-left text-sm hover:text-accent"
            onClick={() => go(...places.finding(g.key))}
          >
            <b className={g.severity === 'stop' ? 'text-stop' : 'text-caution'}>{count(g.count)}</b> <Rich text={g.sentence} />
          </button>
        ))}
      </MarginPart>
    </>
  );
};

const ClearanceStation = () => {
  const plan = usePlan();
  const { place, go } = useWorkplace();
  const { data, error, refetch } = useClearances();
  const [sharing, setSharing] = useState(false);
  const byId = new Map(data?.map((c) => [c.questionId, c]));
  const rows = entries(plan, 'question').sort(
    ([ida, a], [idb, b]) => ORDER[byId.get(ida)?.signal ?? 'open'] - ORDER[byId.get(idb)?.signal ?? 'open'] || a.order - b.order,
  );
  const isAlerts = place.item === 'alerts';
  // Before it is known nothing is said of it.
  const open = useOpenAlerts().data?.open;
  const id = isAlerts ? undefined : (place.item ?? rows[0]?.[0]);
  const question = id === undefined ? undefined : plan.question[id];
  const clearance = id === undefined ? undefined : byId.get(id);
  const list = (
    <>
      <ListHead title="Clearance" note={`${count(rows.length)}, worst first`}>
        <Button look="quiet" className="text-sm" onClick={() => setSharing(true)}>
          Share …
        </Button>
      </ListHead>
      {sharing ? <Share questionId={id} text={question?.text ?? ''} onClose={() => setSharing(false)} /> : null}
      <RecheckProgress />
      <ListRow chosen={isAlerts} onChoose={() => go(...places.alerts())}>
        <span className="flex items-center gap-2">
          <Inbox size={15} /> Alerts
          <span className={`ml-auto text-sm ${open ? 'font-semibold text-stop' : 'text-ink-2'}`}>
            {open === undefined ? '' : open > 0 ? `${count(open)} open` : 'nothing open'}
          </span>
        </span>
      </ListRow>
      {rows.map(([qid, q]) => {
        const c = byId.get(qid);
        return (
          <ListRow key={qid} chosen={qid === id} onChoose={() => go(...places.clearance(qid))}>
            <span className="flex items-start gap-2">
              <Signal state={c?.signal ?? 'open'} />
              <span className="min-w-0 flex-1">
                <span className="block leading-snug font-medium">{q.text || 'Not written yet'}</span>
                <span className="block text-sm text-ink-2">{q.formula?.type ?? 'no formula yet'}</span>
              </span>
              <span className="font-bold">{headline(c?.figure, unitOf(plan, q.formula))}</span>
            </span>
          </ListRow>
        );
      })}
    </>
  );
  return (
    <Frame
      list={list}
      listLabel="Questions by signal"
      margin={id !== undefined && question ? <Margin id={id} question={question} /> : undefined}
    >
      {isAlerts ? (
        <AlertsView />
      ) : error && !data ? (
        <Failed what="The clearance" error={error} retry={() => void refetch()} />
      ) : !data ? (
        <Loading what="figures and gates" />
      ) : question && clearance ? (
        <Bench key={id} question={question} clearance={clearance} />
      ) : question ? (
        <Loading what="the new question’s gates" />
      ) : (
        <Empty title="No question to clear yet.">
          Its gates, with their evidence, appear here.
          <p className="mt-4">
            <Button look="full" onClick={() => go('questions')}>
              Go to the questions
            </Button>
          </p>
        </Empty>
      )}
    </Frame>
  );
};

export default ClearanceStation;
