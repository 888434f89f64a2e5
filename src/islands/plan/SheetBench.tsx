/** A sheet of the plan on the bench: its ledger, and over it filter, grouping, columns, find and replace.
 *  Long because filter, grouping, selection and editing of one sheet share their state.
 */
import { buildStateOf } from '../../core/arrival/seen';
import { ListFilter, Maximize2, Plus, Redo2, Replace, Trash2, Undo2 } from 'lucide-react';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { toast } from '../../ui/toast';
import { bySeverity } from '../../core/findings/severity';
import type { ShownFinding } from '../../core/lint/lint';
import { setField, type Edit } from '../../core/plan/edit';
import type { Sheet } from '../../core/plan/fields/sheets';
import { ask } from '../../client/api';
import { orderEdits } from '../../core/plan/order';
import type { Id, Plan } from '../../core/plan/plan';
import { referencesTo, removalOf } from '../../core/plan/references';
import { Button } from '../../ui/Button';
import { count, plural } from '../../ui/format';
import { Ledger, type CellWrite, type Mark } from '../../ui/Ledger';
import type { Edge } from '../../ui/row-drag';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { useDraft, useWorkplace } from '../workplace/context';
import { useSeen } from './use-seen';
import { useOthers } from '../workplace/people';
import { newEntity } from './new-entity';
import { later } from '../../ui/later';
import { places } from '../workplace/place';
import { FIRST_VIEW, groupingsOf, rowsOf, shownFields, type View } from '../../core/plan/sheet-view';
import { editsFor, replacements } from '../../core/plan/sheet-writes';
import { columnsOf } from './columns';
import { useWriting } from './use-writing';

const EmptySheetText = later(() => import('./EmptySheetText').then((m) => m.EmptySheetText), null);
const RemoveDialog = later(() => import('./RemoveDialog').then((m) => m.RemoveDialog));
const ColumnChoice = later(() => import('./SheetTools').then((m) => m.ColumnChoice));
const FindAndReplace = later(() => import('./SheetTools').then((m) => m.FindAndReplace));

const viewKey = (sheet: Sheet): string => `signal-post-view-${sheet.id}`;

/** How a sheet is looked at, remembered in this browser. */
const useView = (sheet: Sheet): [View, (change: Partial<View>) => void] => {
  const [view, setView] = useState<View>(() => {
    try {
      const kept = JSON.parse(localStorage.getItem(viewKey(sheet)) ?? '{}') as Partial<View>;
      return { ...FIRST_VIEW, ...kept, filter: '', onlyFound: false };
    } catch {
      return FIRST_VIEW;
    }
  });
  const change = useCallback(
    (c: Partial<View>) =>
      setView((v) => {
        const next = { ...v, ...c };
        localStorage.setItem(viewKey(sheet), JSON.stringify({ sort: next.sort, group: next.group, columns: next.columns }));
        return next;
      }),
    [sheet],
  );
  return [view, change];
};

/** The row's own findings first, gravest first; a cell shows those of its field. */
const marksOf = (findings: readonly ShownFinding[], kind: string): { mark: Mark; found: ReadonlySet<Id> } => {
  const byId = new Map<Id, ShownFinding[]>();
  for (const f of findings)
    if (f.path[0] === kind) {
      const list = byId.get(String(f.path[1]));
      if (list) list.push(f);
      else byId.set(String(f.path[1]), [f]);
    }
  return {
    found: new Set(byId.keys()),
    mark: (id, key) => {
      const own = byId.get(id)?.filter((f) => key === undefined || f.path[2] === key);
      if (!own || own.length === 0) return undefined;
      const worst = [...own].sort(bySeverity)[0]!;
      return { tone: worst.severity, text: own.map((f) => f.words.text.replaceAll('`', '')).join('\n') };
    },
  };
};

interface Props {
  readonly plan: Plan;
  readonly sheet: Sheet;
  readonly chosenId: Id | undefined;
  readonly findings: readonly ShownFinding[];
  readonly onTyping: (edits: readonly Edit[]) => void;
}

export const SheetBench = ({ plan, sheet, chosenId, findings, onTyping }: Props) => {
  const { canUndo, canRedo } = useDraft();
  const { store, go } = useWorkplace();
  const [view, setView] = useView(sheet);
  const [replacing, setReplacing] = useState(false);
  const [removing, setRemoving] = useState<Id | undefined>();
  const [at, setAt] = useState(0);
  const [added, setAdded] = useState(0);
  const seen = useSeen();
  const how = useWriting();
  const fields = useMemo(() => shownFields(plan, sheet, view), [plan, sheet, view]);
  const columns = useMemo(() => columnsOf(plan, sheet, fields), [plan, sheet, fields]);
  const { mark, found } = useMemo(() => marksOf(findings, sheet.kind ?? ''), [findings, sheet]);
  const deferred = useDeferredValue(view);
  const { ids, groups, of } = useMemo(() => rowsOf(plan, sheet, fields, deferred, found), [plan, sheet, fields, deferred, found]);
  const selected = ids[at] === chosenId ? at : chosenId === undefined ? 0 : Math.max(0, ids.indexOf(chosenId));
  const current = ids[selected];
  const others = useOthers();
  const here = useMemo(
    () =>
      new Map(
        others.flatMap((o) => {
          const [, station, item] = o.place.split('/');
          const [kind, ...rest] = (item ?? '').split(':');
          return station === 'plan' && kind === sheet.id && rest.length > 0 ? [[rest.join(':'), o.author] as const] : [];
        }),
      ),
    [others, sheet],
  );
  useEffect(() => () => onTyping([]), [onTyping, sheet]);

  const write = (writes: readonly CellWrite[], label?: string, saved?: () => void): string | undefined => {
    const edits = editsFor(plan, fields, ids, writes, { ...how, now: Date.now() });
    if (typeof edits === 'string') return edits;
    const title = fields[writes[0]!.column]?.title ?? '';
    return store.apply(edits, label ?? (writes.length > 1 ? `${plural(writes.length, 'cell')} changed` : `${title} changed`), saved)
      ? undefined
      : 'The plan changed in the meantime; check again.';
  };
  const add = () => {
    if (!sheet.kind) return;
    const id = crypto.randomUUID();
    store.apply([{ op: 'create', kind: sheet.kind, id, body: newEntity(plan, sheet.kind) }], `New ${sheet.one}`);
    setView({ filter: '', onlyFound: false });
    go(...places.row(sheet.id, id));
    // It begins at its name, wherever one was in the row before.
    setAdded(added + 1);
    // The new row is where one goes on typing, once it is drawn.
    setTimeout(() => document.querySelector<HTMLElement>('#bench [role=grid]')?.focus(), 50);
  };
  const remove = (id: Id) => {
    if (!sheet.kind) return;
    const { kind } = sheet;
    const now = (): void => {
      store.apply(removalOf(plan, kind, id), `Removed ${fields[0]!.read(plan, id)}`);
      go(...places.plan(sheet.id));
    };
    if (referencesTo(plan, kind, id).length > 0) setRemoving(id);
    // A rule of the alerts may be about it, too; where nobody can say so, it is removed, and can be brought back.
    else
      void Promise.all([ask('GET /api/alert-rules'), import('../../core/alerts/touched')]).then(
        ([{ rules }, { rulesTouched }]) => (rulesTouched(plan, kind, id, rules).length > 0 ? setRemoving(id) : now()),
        now,
      );
  };
  const isOrdered = sheet.id === 'event' && !view.sort && (view.group === '' || view.group === 'flow');
  /** Puts an event above or below another; among the events of another flow it takes on that flow. */
  const place = (from: number, to: number, edge: Edge) => {
    const [id, target] = [ids[from], ids[to]];
    if (!isOrdered || id === undefined || target === undefined || id === target) return;
    const order = sheet.rows(plan).filter((eid) => eid !== id);
    order.splice(order.indexOf(target) + (edge === 'below' ? 1 : 0), 0, id);
    const flow = view.group === 'flow' ? setField(plan, 'event', id, 'flow', plan.event[target]!.flow) : undefined;
    const edits = [...orderEdits(plan, 'event', order), ...(flow ? [flow] : [])];
    if (store.apply(edits, `Moved ${plan.event[id]!.name}`)) go(...places.row(sheet.id, id));
  };
  /** By one: past the neighbour of its flow, or into the flow that begins or ends there. */
  const move = (row: number, by: -1 | 1) => {
    const leaves = groups?.has(by < 0 ? row : row + 1) ?? false;
    place(row, row + by, by < 0 === leaves ? 'below' : 'above');
  };
  const groupings = groupingsOf(sheet);
  return (
    <>
      <div className="flex flex-wrap items-center gap-1 border-b border-rule py-1.5 pr-10 pl-3">
        <input
          aria-label={`Filter the ${sheet.many}`}
          placeholder="Filter"
          value={view.filter}
          onChange={(e) => setView({ filter: e.target.value })}
          className="w-36 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
        <Button
          look="quiet"
          aria-pressed={view.onlyFound}
          aria-label="Only rows with findings"
          title="Only rows with findings"
          className={view.onlyFound ? '!bg-wash' : ''}
          onClick={() => setView({ onlyFound: !view.onlyFound })}
        >
          <ListFilter size={15} />
        </Button>
        {groupings.length > 0 ? (
          <label className="ml-1 flex items-center gap-1 text-sm text-ink-2">
            by
            <select
              aria-label="Group by"
              value={view.group}
              onChange={(e) => setView({ group: e.target.value })}
              className="border border-rule bg-paper py-0.5 text-ink"
            >
              <option value="">no group</option>
              {groupings.map((g) => (
                <option key={g}>{g}</option>
              ))}
            </select>
          </label>
        ) : null}
        <span className="mx-2 text-sm whitespace-nowrap text-ink-2">
          {count(ids.length)} of {count(of)}
        </span>
        <span className="ml-auto flex">
          <Button
            look="quiet"
            onClick={() => setReplacing(!replacing)}
            aria-pressed={replacing}
            aria-label="Find and replace"
            title="Find and replace"
          >
            <Replace size={15} />
          </Button>
          <ColumnChoice sheet={sheet} view={view} onChange={setView} />
          <Button look="quiet" onClick={() => store.undo()} disabled={!canUndo} aria-label="Undo (Ctrl Z)" title="Undo (Ctrl Z)">
            <Undo2 size={15} />
          </Button>
          <Button
            look="quiet"
            onClick={() => store.redo()}
            disabled={!canRedo}
            aria-label="Redo (Ctrl Shift Z)"
            title="Redo (Ctrl Shift Z)"
          >
            <Redo2 size={15} />
          </Button>
          {sheet.kind ? (
            <>
              <Button
                look="quiet"
                onClick={() => current !== undefined && go(...places.opened(sheet.id, current))}
                disabled={current === undefined}
                aria-label={`Open the chosen ${sheet.one} (Ctrl Enter)`}
                title="Open (Ctrl Enter)"
              >
                <Maximize2 size={15} />
              </Button>
              <Button look="quiet" onClick={add}>
                <Plus size={15} /> New {sheet.one}
              </Button>
              <Button
                look="quiet"
                onClick={() => current !== undefined && remove(current)}
                disabled={current === undefined}
                aria-label={`Remove the chosen ${sheet.one}`}
                title="Remove"
              >
                <Trash2 size={15} />
              </Button>
            </>
          ) : null}
        </span>
      </div>
      {replacing ? (
        <FindAndReplace
          onClose={() => setReplacing(false)}
          count={(find, matchCase) => replacements(plan, fields, ids, find, '\u0000', matchCase).length}
          onReplace={(find, by, matchCase) => {
            const writes = replacements(plan, fields, ids, find, by, matchCase);
            const refused = write(writes, `Replaced “${find}” by “${by}”`, () => toast(`${plural(writes.length, 'cell')} changed.`));
            if (refused !== undefined) toast.error(refused);
          }}
        />
      ) : null}
      {ids.length === 0 ? (
        <Empty title={of > 0 ? 'Nothing matches the filter.' : `No ${sheet.one} yet.`}>
          {of > 0 ? 'Clear the filter to see all rows.' : <EmptySheetText sheet={sheet.id} />}
          {of === 0 && sheet.kind ? (
            <p className="mt-4 flex justify-center gap-2">
              <Button look="full" onClick={add}>
                <Plus size={15} /> New {sheet.one}
              </Button>
              <Button onClick={() => go(...places.plan('files'))}>Import a plan</Button>
            </p>
          ) : null}
        </Empty>
      ) : (
        <Ledger
          key={`${sheet.id} ${added}`}
          label={sheet.title}
          rows={ids}
          {...(groups ? { groups } : {})}
          columns={columns}
          selected={selected}
          onSelect={(row) => {
            setAt(row);
            go(...places.row(sheet.id, ids[row] ?? ''));
          }}
          onWrite={write}
          onTyping={(w) => {
            const edits = w ? editsFor(plan, fields, ids, [w], { ...how, now: Date.now() }) : [];
            onTyping(typeof edits === 'string' ? [] : edits);
          }}
          onOpen={(row) => sheet.kind && ids[row] !== undefined && go(...places.opened(sheet.id, ids[row]))}
          onMove={move}
          {...(isOrdered ? { onPlace: place } : {})}
          sort={view.sort}
          onSort={(key) =>
            setView({ sort: view.sort?.key !== key ? { key, down: false } : view.sort.down ? undefined : { key, down: true } })
          }
          mark={mark}
          others={here}
          show={(id, key) => {
            if (sheet.id === 'event' && key === 'sources')
              return plan.event[id]?.sources.map((s) => {
                const source = plan.source[s.sourceId];
                return source ? (
                  <span key={s.sourceId} className={`mr-1 ${buildStateOf(s, seen.of(id, s.sourceId)) === 'proposed' ? 'opacity-60' : ''}`}>
                    <SourceMark
                      letter={source.mark}
                      kind={source.kind}
                      name={`${source.name}, ${buildStateOf(s, seen.of(id, s.sourceId))}`}
                    />
                  </span>
                ) : null;
              });
            const source = sheet.id === 'source' && key === 'mark' ? plan.source[id] : undefined;
            return source ? <SourceMark letter={source.mark} kind={source.kind} name={source.mark} /> : undefined;
          }}
        />
      )}
      {removing !== undefined && sheet.kind ? (
        <RemoveDialog kind={sheet.kind} id={removing} onClose={() => setRemoving(undefined)} />
      ) : null}
    </>
  );
};
