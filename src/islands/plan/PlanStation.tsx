/** The Plan station: the sheets of the plan, what the checks find, and the plan's history. */
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { applyEdits, type Edit } from '../../core/plan/edit';
import { ENTITY_SHEETS, type Sheet } from '../../core/plan/fields/sheets';
import type { Plan } from '../../core/plan/plan';
import { limitsOf, WARN_FROM } from '../../core/plan/limits';
import { suggestionsOf } from '../../core/plan/suggestions';
import { count as countText, plural } from '../../ui/format';
import { Loading } from '../../ui/States';
import { later } from '../../ui/later';
import { Frame, ListHead } from '../../ui/Frame';
import { GroupedNav } from '../../ui/GroupedNav';
import { useDraft, useLintOf, usePlan, useWorkplace } from '../workplace/context';
import { RecheckProgress } from '../workplace/RecheckProgress';
import { SheetBench } from './SheetBench';
import { SETTING_SHEET_IDS, PLAN_GROUPS, planPlace } from './views';
import { places } from '../workplace/place';

const Activity = later(() => import('./Activity').then((m) => m.Activity), <Loading what="the view" />);
const DefinitionDetail = later(() => import('./DefinitionDetail').then((m) => m.DefinitionDetail), <Loading what="the definition" />);
const EntityDetail = later(() => import('./EntityDetail').then((m) => m.EntityDetail), <Loading what="the view" />);
const FindingList = later(() => import('./FindingList').then((m) => m.FindingList), <Loading what="the view" />);
const ImportExport = later(() => import('./ImportExport').then((m) => m.ImportExport), <Loading what="the view" />);
const Limits = later(() => import('./Limits').then((m) => m.Limits), <Loading what="the view" />);
const ProposalList = later(() => import('./Proposals').then((m) => m.ProposalList), <Loading what="the view" />);
const ProposalReview = later(() => import('./Proposals').then((m) => m.ProposalReview), <Loading what="the view" />);
const ReadingView = later(() => import('./ReadingView').then((m) => m.ReadingView), <Loading what="the view" />);
const PlanMargin = later(() => import('./PlanMargin').then((m) => m.PlanMargin));
const SettingMargin = later(() => import('./SettingMargin').then((m) => m.SettingMargin), <Loading what="the view" />);
const Suggestions = later(() => import('./Suggestions').then((m) => m.Suggestions), <Loading what="the view" />);
const TryDraft = later(() => import('./TryDraft').then((m) => m.TryDraft), <Loading what="the view" />);
const Versions = later(() => import('./Versions').then((m) => m.Versions), <Loading what="the view" />);
const Publish = later(() => import('./Publish').then((m) => m.Publish));

/** The sheets that come when one is opened. */
const COMING = {
  settings: () => import('../../core/plan/fields/setting-sheets').then((m) => m.SETTING_SHEETS),
  definitions: () => import('../../core/plan/fields/definition-sheet').then((m) => [m.DEFINITION_SHEET]),
} as const;
const cameWith = (view: string): keyof typeof COMING | undefined =>
  SETTING_SHEET_IDS.includes(view) ? 'settings' : view === 'definition' ? 'definitions' : undefined;

/** All sheets that are there by now. */
const useSheets = (view: string): readonly Sheet[] => {
  const [came, setCame] = useState<Readonly<Partial<Record<keyof typeof COMING, readonly Sheet[]>>>>({});
  const wanted = cameWith(view);
  const lacks = wanted !== undefined && came[wanted] === undefined ? wanted : undefined;
  useEffect(() => {
    if (lacks === undefined) return;
    let left = false;
    void COMING[lacks]().then((sheets) => {
      if (!left) setCame((known) => ({ ...known, [lacks]: sheets }));
    });
    return () => {
      left = true;
    };
  }, [lacks]);
  return useMemo(() => [...ENTITY_SHEETS, ...Object.values(came).flat()], [came]);
};

/** What is being typed, and the plan as it would be. */
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
  const { opened, id, view } = planPlace(place.item);
  const sheets = useSheets(view);
  const sheet = sheets.find((s) => s.id === view);
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
  const { findings, plan: linted } = useLintOf(looked);
  // Before the rules have run nothing is said to be right.
  const isChecked = linted !== undefined;
  const suggested = useMemo(
    () => suggestionsOf(plan).reduce((n, g) => n + [...g.lacking.values()].reduce((m, l) => m + l.length, 0), 0),
    [plan],
  );
  const nearLimits = useMemo(() => limitsOf(plan).filter((l) => l.used >= l.limit * WARN_FROM).length, [plan]);
  const counts: Record<string, number | string> = {
    findings: isChecked ? findings.length : '',
    suggestions: suggested,
    limits: nearLimits > 0 ? `${nearLimits} near` : '',
  };

  const noteOf = (v: string): string | undefined => {
    const kind = v === 'definition' ? v : sheets.find((x) => x.id === v)?.kind;
    const n = kind ? Object.keys(plan[kind]).length : counts[v];
    return typeof n === 'number' ? countText(n) : n;
  };
  const list = (
    <>
      <ListHead title="Plan">{proposal ? null : <Publish />}</ListHead>
      {proposal ? null : (
        <p className="border-b border-rule px-4 py-1 text-sm text-ink-2">
          {server?.unpublished
            ? `${plural(server.unpublished, 'entry', 'entries')} of the draft ${server.unpublished === 1 ? 'differs' : 'differ'} from the newest version.`
            : 'The draft equals the newest version.'}
        </p>
      )}
      <GroupedNav
        label="Parts of the plan"
        groups={PLAN_GROUPS.map((g) => ({ ...g, entries: g.entries.map((e) => ({ ...e, note: noteOf(e.id) })) }))}
        chosen={view === 'proposal' ? 'proposals' : view}
        onChoose={(v) => go(...places.plan(v))}
      />
      <RecheckProgress />
    </>
  );
  const current = id ?? (sheet && !opened ? sheet.rows(plan)[0] : undefined);
  const margin =
    sheet?.kind !== undefined ? (
      <PlanMargin
        plan={looked}
        kind={sheet.kind}
        id={current}
        findings={isChecked ? findings : undefined}
        typing={typing.edits.length > 0}
      />
    ) : sheet ? (
      <SettingMargin plan={plan} sheet={sheet} id={current} />
    ) : undefined;
  return (
    <Frame list={list} listLabel="Parts of the plan" narrowList margin={margin}>
      {sheet?.kind === 'definition' && opened && id !== undefined ? (
        <DefinitionDetail key={id} plan={plan} sheet={sheet} id={id} />
      ) : sheet && opened && id !== undefined ? (
        <EntityDetail key={`${sheet.id} ${id}`} plan={plan} sheet={sheet} id={id} />
      ) : sheet ? (
        <SheetBench key={sheet.id} plan={plan} sheet={sheet} chosenId={id} findings={findings} onTyping={onTyping} />
      ) : cameWith(view) !== undefined ? (
        <Loading what="the sheet" />
      ) : view === 'findings' ? (
        isChecked ? (
          <FindingList findings={findings} />
        ) : (
          <Loading what="the issues" />
        )
      ) : view === 'suggestions' ? (
        <Suggestions plan={plan} />
      ) : view === 'limits' ? (
        <Limits plan={plan} />
      ) : view === 'try' ? (
        <TryDraft plan={plan} />
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
