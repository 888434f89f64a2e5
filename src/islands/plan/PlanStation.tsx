/** The Plan station: the sheets of the plan, what the checks find, and the plan's history. */
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { applyEdits, type Edit } from '../../core/plan/edit';
import { SHEETS, type Sheet } from '../../core/plan/fields/index';
import type { Id, Plan } from '../../core/plan/plan';
import { limitsOf, WARN_FROM } from '../../core/plan/limits';
import { suggestionsOf } from '../../core/plan/suggestions';
import { count as countText, plural } from '../../ui/format';
import { Frame, ListHead, ListRow } from '../../ui/Frame';
import { useDraft, useLintOf, usePlan, useWorkplace } from '../workplace/context';
import { Activity } from './Activity';
import { EntityDetail } from './EntityDetail';
import { FindingList } from './FindingList';
import { ImportExport } from './ImportExport';
import { Limits } from './Limits';
import { PlanMargin } from './PlanMargin';
import { ProposalList, ProposalReview } from './Proposals';
import { Publish } from './Publish';
import { RecheckProgress } from '../workplace/RecheckProgress';
import { ReadingView } from './ReadingView';
import { SettingMargin } from './SettingMargin';
import { SheetBench } from './SheetBench';
import { Suggestions } from './Suggestions';
import { Versions } from './Versions';

interface Place {
  readonly sheet: Sheet | undefined;
  /** The entity opened on the bench. */
  readonly opened: boolean;
  readonly id: Id | undefined;
  readonly view: string;
}

const placeOf = (item: string | undefined): Place => {
  const parts = (item ?? 'event').split(':');
  const opened = parts[0] === 'open';
  const [view = 'event', ...rest] = opened ? parts.slice(1) : parts;
  return { sheet: SHEETS.find((s) => s.id === view), opened, id: rest.join(':') || undefined, view };
};

const VIEWS = [
  { id: 'findings', title: 'What the checks find' },
  { id: 'suggestions', title: 'Same object' },
  { id: 'limits', title: 'Limits' },
  { id: 'read', title: 'Reading view' },
  { id: 'versions', title: 'Versions' },
  { id: 'proposals', title: 'Proposals' },
  { id: 'activity', title: 'Activity' },
  { id: 'files', title: 'Bring in, take away' },
] as const;

const Count = ({ n }: { n: number | string }) => (
  <span className="ml-auto text-sm text-ink-2">{typeof n === 'number' ? countText(n) : n}</span>
);

/** What is being typed, and the plan as it would stand. */
interface Typing {
  readonly of: Plan;
  readonly edits: readonly Edit[];
  readonly looked: Plan;
}

const tried = (plan: Plan, edits: readonly Edit[]): Typing => {
  const r = applyEdits(plan, edits);
  return { of: plan, edits, looked: r.ok ? r.plan : plan };
};

const PlanStation = () => {
  const plan = usePlan();
  const { server, proposal } = useDraft();
  const { place, go, lint } = useWorkplace();
  const { sheet, opened, id, view } = placeOf(place.item);
  const [typing, setTyping] = useState<Typing>(() => tried(plan, []));
  // The same function while the plan changes: what is typed stays tried when something arrives meanwhile.
  const planNow = useRef(plan);
  useEffect(() => {
    planNow.current = plan;
  }, [plan]);
  const onTyping = useCallback(
    (edits: readonly Edit[]) => {
      const next = tried(planNow.current, edits);
      // The rules begin while the page is still being drawn.
      if (edits.length > 0) lint.want(next.looked);
      setTyping((t) => (t.edits.length === 0 && edits.length === 0 ? t : next));
    },
    [lint],
  );

  const trial = useDeferredValue(typing);
  const { looked } = useMemo(() => (trial.of === plan ? trial : tried(plan, trial.edits)), [plan, trial]);
  const { findings } = useLintOf(looked);
  const suggested = useMemo(
    () => suggestionsOf(plan).reduce((n, g) => n + [...g.lacking.values()].reduce((m, l) => m + l.length, 0), 0),
    [plan],
  );
  const nearLimits = useMemo(() => limitsOf(plan).filter((l) => l.used >= l.limit * WARN_FROM).length, [plan]);
  const counts: Record<string, number | string> = {
    findings: findings.length,
    suggestions: suggested,
    limits: nearLimits > 0 ? `${nearLimits} near` : '',
  };

  const list = (
    <>
      <ListHead title="Plan" />
      {SHEETS.map((s) => (
        <ListRow key={s.id} chosen={sheet === s} onChoose={() => go('plan', s.id)} className="!flex !py-1">
          {s.title} {s.kind ? <Count n={Object.keys(plan[s.kind]).length} /> : null}
        </ListRow>
      ))}
      <div className="h-2 border-b border-rule" />
      {VIEWS.map((v) => (
        <ListRow
          key={v.id}
          chosen={view === v.id || (v.id === 'proposals' && view === 'proposal')}
          onChoose={() => go('plan', v.id)}
          className="!flex !py-1"
        >
          {v.title} {counts[v.id] === undefined ? null : <Count n={counts[v.id]!} />}
        </ListRow>
      ))}
      <div className="p-3">
        {proposal ? null : (
          <>
            <p className="mb-2 text-sm text-ink-2">
              {server?.unpublished
                ? `${plural(server.unpublished, 'entry', 'entries')} of the draft ${server.unpublished === 1 ? 'differs' : 'differ'} from the newest version.`
                : 'The draft is published as it is.'}
            </p>
            <Publish />
          </>
        )}
      </div>
      <RecheckProgress />
    </>
  );
  const current = id ?? (sheet && !opened ? sheet.rows(plan)[0] : undefined);
  const margin =
    sheet?.kind !== undefined ? (
      <PlanMargin plan={looked} kind={sheet.kind} id={current} findings={findings} typing={typing.edits.length > 0} />
    ) : sheet ? (
      <SettingMargin plan={plan} sheet={sheet} id={current} />
    ) : undefined;
  return (
    <Frame list={list} listLabel="Parts of the plan" narrowList margin={margin}>
      {sheet && opened && id !== undefined ? (
        <EntityDetail key={`${sheet.id} ${id}`} plan={plan} sheet={sheet} id={id} />
      ) : sheet ? (
        <SheetBench key={sheet.id} plan={plan} sheet={sheet} chosenId={id} findings={findings} onTyping={onTyping} />
      ) : view === 'findings' ? (
        <FindingList findings={findings} />
      ) : view === 'suggestions' ? (
        <Suggestions plan={plan} />
      ) : view === 'limits' ? (
        <Limits plan={plan} />
      ) : view === 'read' ? (
        <ReadingView plan={plan} />
      ) : view === 'proposals' ? (
        <ProposalList />
      ) : view === 'proposal' && id !== undefined ? (
        <ProposalReview key={id} id={id} />
      ) : view === 'activity' ? (
        <Activity />
      ) : view === 'files' ? (
        <ImportExport plan={plan} />
      ) : (
        <Versions />
      )}
    </Frame>
  );
};

export default PlanStation;
