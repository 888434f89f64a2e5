/** Questions against what they need of the plan; the economy of the plan; what is without a question. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { setField } from '../../core/plan/edit';
import type { Id, Kind } from '../../core/plan/plan';
import {
  coverageMatrix,
  economyOf,
  eventsForNoQuestion,
  propertiesForNoQuestion,
  type CoverageMatrix,
  type MatrixColumn,
} from '../../core/questions/economy';
import { count, decimal, plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { TextField } from '../../ui/TextField';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { refText } from '../../core/plan/property-path';

const LABEL_WIDTH = 288;
const COLUMN_WIDTH = 24;
const ROW_HEIGHT = 26;
const HEAD_HEIGHT = 176;

const titleOf = (c: MatrixColumn): string => (c.property === undefined ? c.eventName : `${c.eventName}: ${refText(c.property)}`);

const Matrix = ({ matrix }: { matrix: CoverageMatrix }) => {
  const { go } = useWorkplace();
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<{ row: number; column: number } | undefined>();
  const columns = useVirtualizer({
    horizontal: true,
    count: matrix.columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => COLUMN_WIDTH,
    overscan: 10,
  });
  const shown = columns.getVirtualItems();
  const width = LABEL_WIDTH + columns.getTotalSize();
  const hovered = at && matrix.columns[at.column];
  return (
    <>
      <div
        ref={scroller}
        role="region"
        tabIndex={0}
        aria-label="Questions against events"
        className="min-h-0 flex-1 overflow-auto bg-paper outline-offset-[-2px]"
        onMouseLeave={() => setAt(undefined)}
      >
        <div className="relative" style={{ width, height: HEAD_HEIGHT + matrix.rows.length * ROW_HEIGHT }}>
          <div className="sticky top-0 z-20 bg-ground" style={{ height: HEAD_HEIGHT, width }}>
            <div
              className="sticky left-0 z-10 flex h-full items-end border-r border-b border-rule bg-ground px-3 pb-1 text-sm text-ink-2"
              style={{ width: LABEL_WIDTH }}
            >
              question
            </div>
            {shown.map((v) => {
              const c = matrix.columns[v.index]!;
              return (
                <button
                  key={v.index}
                  type="button"
                  title={`${titleOf(c)}: ${plural(c.questions, 'question')}`}
                  disabled={c.eventId === undefined}
                  onClick={() => go(...places.row('event', c.eventId ?? ''))}
                  className={`absolute bottom-0 flex items-center border-b border-l border-rule py-1 text-left wire text-[0.8rem] hover:bg-wash ${at?.column === v.index ? 'bg-wash' : ''} ${c.planned ? (c.questions === 0 ? 'text-ink-2' : '') : 'text-caution'}`}
                  style={{
                    left: LABEL_WIDTH + v.start,
                    width: COLUMN_WIDTH,
                    height: HEAD_HEIGHT,
                    writingMode: 'vertical-rl',
                    rotate: '180deg',
                  }}
                >
                  <span className="truncate">{c.property === undefined ? c.eventName : `· ${refText(c.property)}`}</span>
                </button>
              );
            })}
          </div>
          {matrix.rows.map((r, row) => (
            <div
              key={r.id}
              className={`absolute flex border-b border-rule ${at?.row === row ? 'bg-wash' : ''}`}
              style={{ top: HEAD_HEIGHT + row * ROW_HEIGHT, height: ROW_HEIGHT, width }}
            >
              <button
                type="button"
                onClick={() => go(...places.question(r.id))}
                className={`sticky left-0 z-10 flex items-center gap-2 border-r border-rule px-3 text-left hover:text-accent ${at?.row === row ? 'bg-wash' : 'bg-paper'}`}
                style={{ width: LABEL_WIDTH }}
              >
                <span className="truncate">{r.text || 'Not written yet'}</span>
                {r.state === 'answerable' ? null : (
                  <span className={`ml-auto text-sm ${r.state === 'partly' ? 'text-caution' : 'text-ink-2'}`}>{r.state}</span>
                )}
              </button>
              {shown.map((v) => {
                const needed = r.needs.has(v.index);
                const c = matrix.columns[v.index]!;
                return (
                  <span
                    key={v.index}
                    onMouseEnter={() => setAt({ row, column: v.index })}
                    className="absolute flex h-full items-center justify-center border-l border-rule"
                    style={{ left: LABEL_WIDTH + v.start, width: COLUMN_WIDTH }}
                  >
                    {needed ? (
                      c.planned ? (
                        <span role="img" aria-label={`needs ${titleOf(c)}`} className="size-3 bg-accent" />
                      ) : (
                        <span role="img" aria-label={`lacks ${titleOf(c)}`} className="size-3 border-2 border-caution" />
                      )
                    ) : null}
                  </span>
                );
              })}
            </div>
          ))}
        </div>
      </div>
      <p className="border-t border-rule px-4 py-1 text-sm text-ink-2">
        {hovered ? (
          <>
            <b className="text-ink">{matrix.rows[at.row]?.text}</b> {matrix.rows[at.row]?.needs.has(at.column) ? 'needs' : 'does not need'}{' '}
            <span className="wire">{titleOf(hovered)}</span>
          </>
        ) : (
          'A solid square is needed and planned; an empty one is needed and missing.'
        )}
      </p>
    </>
  );
};

const Unasked = () => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const rows = useMemo(
    () => [
      ...eventsForNoQuestion(plan).map((x) => ({ ...x, kind: 'event' as const })),
      ...propertiesForNoQuestion(plan).map((x) => ({ ...x, kind: 'property' as const })),
    ],
    [plan],
  );
  const keep = (kind: Kind & ('event' | 'property'), id: Id, reason: string) => {
    const edit = setField(plan, kind, id, 'keepReason', reason.trim());
    if (edit) store.apply([edit], reason.trim() === '' ? 'No longer kept without a question' : 'Kept without a question');
  };
  if (rows.length === 0) return <Empty title="Everything tracked serves a question.">Every event and property serves a question.</Empty>;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-5 py-3">
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="w-24 pb-1 font-medium">kind</th>
            <th className="w-64 pb-1 font-medium">name</th>
            <th className="pb-1 font-medium">kept because</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={`${r.kind} ${r.id}`} className="border-t border-rule">
              <td className="text-ink-2">{r.kind}</td>
              <td>
                <button
                  type="button"
                  className="min-h-[24px] wire underline decoration-dotted hover:text-accent"
                  onClick={() => go(...places.row(r.kind, r.id))}
                >
                  {plan[r.kind][r.id]!.name}
                </button>
              </td>
              <td>
                <TextField
                  label={`Why ${plan[r.kind][r.id]!.name} is kept`}
                  value={plan[r.kind][r.id]!.keepReason}
                  placeholder="serves no question: write why it is kept, or leave it as an issue"
                  onSave={(v) => keep(r.kind, r.id, v)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
};

const VIEWS = ['events', 'events and properties', 'without a question'] as const;

export const CoverageView = () => {
  const plan = usePlan();
  const [view, setView] = useState<(typeof VIEWS)[number]>('events');
  const matrix = useMemo(() => coverageMatrix(plan, view === 'events and properties'), [plan, view]);
  const e = useMemo(() => economyOf(plan), [plan]);
  const unasked = useMemo(() => [...eventsForNoQuestion(plan), ...propertiesForNoQuestion(plan)].filter((x) => !x.kept).length, [plan]);
  return (
    <>
      <div className="border-b border-rule px-5 py-3">
        <p className="flex flex-wrap items-baseline gap-x-6">
          <span>
            <b className="text-[1.5rem]">{e.answeredPerEvent === undefined ? '–' : decimal(e.answeredPerEvent)}</b>{' '}
            <span className="text-ink-2">questions answered per event</span>
          </span>
          <span className="text-ink-2">
            {count(e.answerable)} answerable, {count(e.partly)} partly, {count(e.undefined)} undefined; {plural(e.events, 'event')},{' '}
            {count(e.properties)} different properties in {plural(e.pairs, 'pair')}
          </span>
        </p>
        <div role="group" aria-label="What is shown" className="mt-2 flex gap-4">
          {VIEWS.map((v) => (
            <button
              key={v}
              type="button"
              aria-pressed={v === view}
              onClick={() => setView(v)}
              className={`border-b-2 ${v === view ? 'border-accent font-semibold' : 'border-transparent text-ink-2 hover:text-accent'}`}
            >
              {v}
              {v === 'without a question' ? ` (${count(unasked)})` : ''}
            </button>
          ))}
        </div>
      </div>
      {view === 'without a question' ? (
        <Unasked />
      ) : matrix.rows.length === 0 ? (
        <Empty title="No question yet.">Write down what somebody wants to decide; the matrix follows.</Empty>
      ) : (
        <Matrix matrix={matrix} />
      )}
    </>
  );
};
