/** The Plan station: the ledger of events and of properties, with the findings of the plan's own rules. */
import { Plus, Redo2, Trash2, Undo2 } from 'lucide-react';
import { useDeferredValue, useMemo, useState } from 'react';
import { bySeverity } from '../../core/findings/severity';
import { lintMessage, lintPlan, type LintFinding } from '../../core/lint/lint';
import { blank } from '../../core/plan/defaults';
import { applyEdits, type Edit } from '../../core/plan/edit';
import type { Id } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { Frame, ListHead, ListRow } from '../../ui/Frame';
import { Ledger, type CellWrite, type Column } from '../../ui/Ledger';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { eventColumns, propertyColumns, sourceColumns } from './ledger-columns';
import { FindingList } from './FindingList';
import { HistoryView } from './HistoryView';
import { detachEdits, editsFor, rowsOf } from './plan-rows';
import { PlanMargin } from './PlanMargin';
import { Publish } from './Publish';

/** The row's own findings first, gravest first; a cell shows those of its field. */
const markOf = (byEntity: ReadonlyMap<Id, LintFinding[]>, id: Id, field: string | undefined) => {
  const own = byEntity.get(id)?.filter((f) => field === undefined || f.path[2] === field) ?? [];
  const worst = [...own].sort(bySeverity)[0];
  return worst && { tone: worst.severity, text: own.map((f) => lintMessage(f).replaceAll('`', '')).join('\n') };
};

const SHEETS = [
  { id: 'event', title: 'Events', one: 'event', many: 'events' },
  { id: 'property', title: 'Properties', one: 'property', many: 'properties' },
  { id: 'source', title: 'Sources', one: 'source', many: 'sources' },
] as const;

const PlanStation = () => {
  const plan = usePlan();
  const { server, canUndo, canRedo } = useDraft();
  const { store, place, go } = useWorkplace();
  const [kindOfItem, ...rest] = (place.item ?? 'event').split(':');
  const shownSheet = SHEETS.find((x) => x.id === kindOfItem);
  const other = kindOfItem === 'history' || kindOfItem === 'findings' ? kindOfItem : undefined;
  const { id: kind, one, many } = shownSheet ?? SHEETS[0];
  const sheet = other ?? kind;
  const chosenId = rest.join(':') || undefined;
  const [filter, setFilter] = useState('');
  const [typing, setTyping] = useState<Edit[]>([]);

  const trial = useDeferredValue(typing);
  const looked = useMemo(() => {
    const r = applyEdits(plan, trial);
    return r.ok ? r.plan : plan;
  }, [plan, trial]);
  const findings = useMemo(() => lintPlan(looked), [looked]);
  const byEntity = useMemo(() => {
    const map = new Map<Id, LintFinding[]>();
    for (const f of findings) {
      const id = String(f.path[1]);
      map.set(id, [...(map.get(id) ?? []), f]);
    }
    return map;
  }, [findings]);

  const rows = useMemo(() => rowsOf(plan), [plan]);
  const needle = filter.toLowerCase();
  const events = rows.event.filter(
    (r) => needle === '' || `${r.event.name} ${r.event.flow} ${r.event.owner} ${r.event.trigger}`.toLowerCase().includes(needle),
  );
  const properties = rows.property.filter(
    (r) => needle === '' || `${r.property.name} ${r.property.description}`.toLowerCase().includes(needle),
  );
  const eventCols = useMemo(() => eventColumns(plan), [plan]);
  const propertyCols = useMemo(() => propertyColumns(plan), [plan]);
  // Names that went out keep their former form on a rename; what was never published does not.
  const published = useMemo(
    () =>
      new Set(
        server?.published ? rows.event.filter((r) => r.event.sources.some((s) => s.build !== 'proposed')).map((r) => r.event.name) : [],
      ),
    [rows, server],
  );

  const sources = rows.source.filter((r) => needle === '' || `${r.source.name} ${r.source.owner}`.toLowerCase().includes(needle));
  const shownRows: readonly { id: Id }[] = { event: events, property: properties, source: sources }[kind];
  const ids = shownRows.map((r) => r.id);
  const found = chosenId === undefined ? 0 : ids.indexOf(chosenId);
  const selected = Math.max(0, found);
  const columns = { event: eventCols, property: propertyCols, source: sourceColumns }[kind] as unknown as Column<never>[];

  const shared = {
    selected,
    onSelect: (row: number) => go('plan', `${kind}:${ids[row] ?? ''}`),
    onWrite: (writes: readonly CellWrite[]): string | undefined => {
      const edits = editsFor(plan, kind, ids, columns, writes, published);
      if (typeof edits === 'string') return edits;
      const title = columns[writes[0]!.column]?.title ?? '';
      return store.apply(edits, writes.length > 1 ? `${plural(writes.length, 'cell')} changed` : `${title} changed`)
        ? undefined
        : 'The plan changed meanwhile; look again.';
    },
    onTyping: (write: CellWrite | undefined) => {
      const edits = write ? editsFor(plan, kind, ids, columns, [write], published) : [];
      setTyping(typeof edits === 'string' ? [] : edits);
    },
  };

  const add = () => {
    const id = crypto.randomUUID();
    const order = Math.max(0, ...rows.event.map((r) => r.event.order)) + 1;
    const body = {
      event: blank('event', { name: 'New Event', order }),
      property: blank('property', { name: 'new_property' }),
      source: blank('source', { name: 'New source', mark: 'N' }),
    }[kind];
    store.apply([{ op: 'create', kind, id, body }], `New ${kind}`);
    setFilter('');
    go('plan', `${kind}:${id}`);
    // The new row is where one goes on typing, once it is drawn.
    setTimeout(() => document.querySelector<HTMLElement>('#bench [role=grid]')?.focus(), 50);
  };
  const current = ids[selected];
  const remove = () => {
    const body = current === undefined ? undefined : plan[kind][current];
    if (current === undefined || !body) return;
    store.apply([...detachEdits(plan, kind, current), { op: 'remove', kind, id: current, body }], `Removed ${body.name}`);
    go('plan', kind);
  };

  const count = (n: number) => <span className="ml-auto text-sm text-ink-2">{n}</span>;
  const list = (
    <>
      <ListHead title="Plan" />
      {SHEETS.map((s) => (
        <ListRow key={s.id} chosen={sheet === s.id} onChoose={() => go('plan', s.id)} className="!flex">
          {s.title} {count(rows[s.id].length)}
        </ListRow>
      ))}
      <ListRow chosen={sheet === 'findings'} onChoose={() => go('plan', 'findings')} className="!flex">
        Findings {count(findings.length)}
      </ListRow>
      <ListRow chosen={sheet === 'history'} onChoose={() => go('plan', 'history')}>
        Versions and changes
      </ListRow>
      <div className="p-3">
        <p className="mb-2 text-sm text-ink-2">
          {server?.unpublished
            ? `${plural(server.unpublished, 'entry', 'entries')} of the draft differ from the newest version.`
            : 'The draft is published as it is.'}
        </p>
        <Publish />
        {server?.recheck ? (
          <div className="mt-3 text-sm">
            <p className="text-ink-2">Checking what was recorded …</p>
            <progress
              className="w-full accent-accent"
              value={server.recheck.done}
              max={server.recheck.of}
              aria-label="Checking what was recorded"
            />
          </div>
        ) : null}
      </div>
    </>
  );

  return (
    <Frame
      list={list}
      listLabel="Parts of the plan"
      narrowList
      margin={other ? undefined : <PlanMargin plan={looked} kind={kind} id={current} findings={findings} typing={typing.length > 0} />}
    >
      {other === 'history' ? (
        <HistoryView />
      ) : other === 'findings' ? (
        <FindingList findings={findings} />
      ) : (
        <>
          <div className="flex items-center gap-1 border-b border-rule py-1.5 pr-10 pl-3">
            <input
              aria-label={`Filter the ${many}`}
              placeholder="Filter"
              value={filter}
              onChange={(e) => setFilter(e.target.value)}
              className="w-44 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
            />
            <span className="mx-2 text-sm text-ink-2">
              {ids.length} of {rows[kind].length}
            </span>
            <span className="ml-auto flex gap-0.5">
              <Button look="quiet" onClick={() => store.undo()} disabled={!canUndo} aria-label="Undo (Ctrl Z)">
                <Undo2 size={15} />
              </Button>
              <Button look="quiet" onClick={() => store.redo()} disabled={!canRedo} aria-label="Redo (Ctrl Shift Z)">
                <Redo2 size={15} />
              </Button>
              <Button look="quiet" onClick={add}>
                <Plus size={15} /> New {one}
              </Button>
              <Button look="quiet" onClick={remove} disabled={current === undefined} aria-label={`Remove the chosen ${kind}`}>
                <Trash2 size={15} />
              </Button>
            </span>
          </div>
          {ids.length === 0 ? (
            <Empty title={filter ? 'Nothing passes the filter.' : `No ${one} yet.`}>
              {filter
                ? 'Empty the filter to see all rows.'
                : 'Write a question first and add what it lacks with one action, or make a new row here.'}
            </Empty>
          ) : kind === 'event' ? (
            <Ledger
              key="event"
              label="Events"
              rows={events}
              columns={eventCols}
              keyOf={(r) => r.id}
              mark={(r, c) => markOf(byEntity, r.id, c?.key)}
              show={(r, c) =>
                c.key === 'sources'
                  ? r.event.sources.map((s) => {
                      const source = plan.source[s.sourceId];
                      return source ? (
                        <span key={s.sourceId} className="mr-1">
                          <SourceMark letter={source.mark} kind={source.kind} name={source.name} />
                        </span>
                      ) : null;
                    })
                  : undefined
              }
              {...shared}
            />
          ) : kind === 'source' ? (
            <Ledger
              key="source"
              label="Sources"
              rows={sources}
              columns={sourceColumns}
              keyOf={(r) => r.id}
              mark={(r, c) => markOf(byEntity, r.id, c?.key)}
              show={(r, c) =>
                c.key === 'mark' ? <SourceMark letter={r.source.mark} kind={r.source.kind} name={r.source.mark} /> : undefined
              }
              {...shared}
            />
          ) : (
            <Ledger
              key="property"
              label="Properties"
              rows={properties}
              columns={propertyCols}
              keyOf={(r) => r.id}
              mark={(r, c) => markOf(byEntity, r.id, c?.key)}
              {...shared}
            />
          )}
        </>
      )}
    </Frame>
  );
};

export default PlanStation;
