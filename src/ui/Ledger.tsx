/** The ledger: a virtualised grid that is edited where it is read, by keyboard, with ranges to and from a sheet. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useId, useRef, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from 'react';
import { CellEditor, type Editing } from './CellEditor';
import { fromSheetText, rangeOf, toSheetText, type Cell, type Column } from './ledger-model';

export type { Column } from './ledger-model';

const ROW_HEIGHT = 31;
const PAGE_ROWS = 15;

export interface CellWrite {
  readonly row: number;
  readonly column: number;
  readonly text: string;
}

interface Props<Row> {
  readonly label: string;
  readonly columns: readonly Column<Row>[];
  readonly rows: readonly Row[];
  readonly keyOf: (row: Row) => string;
  readonly selected: number;
  readonly onSelect: (row: number) => void;
  /** Writes cells, all or none. A text comes back when they are refused: it is shown at the cell. */
  readonly onWrite: (writes: readonly CellWrite[]) => string | undefined;
  /** What is being typed and not yet kept; `undefined` when editing ends. */
  readonly onTyping: (write: CellWrite | undefined) => void;
  readonly show?: (row: Row, column: Column<Row>) => ReactNode;
  readonly mark: (
    row: Row,
    column: Column<Row> | undefined,
  ) => { readonly tone: 'stop' | 'caution' | 'note'; readonly text: string } | undefined;
}

const UNDERLINE = { stop: 'decoration-stop', caution: 'decoration-caution-fill', note: 'decoration-ink-2' } as const;
const DOT = { stop: 'bg-stop', caution: 'bg-caution-fill', note: 'bg-ink-2' } as const;

export const Ledger = <Row,>({ label, columns, rows, keyOf, selected, onSelect, onWrite, onTyping, show, mark }: Props<Row>) => {
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const [active, setActive] = useState<Cell>({ row: selected, column: 0 });
  const [anchor, setAnchor] = useState<Cell | undefined>();
  const [editing, setEditing] = useState<Editing | undefined>();
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const range = rangeOf(anchor ?? active, active);
  const width = columns.reduce((n, c) => n + c.width, 34);

  useEffect(() => {
    if (selected !== active.row && selected >= 0) setActive((a) => ({ ...a, row: selected }));
    // Only a choice from outside moves the cell.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected]);
  useEffect(() => {
    virtual.scrollToIndex(active.row, { align: 'auto' });
    const el = scroller.current;
    const left = columns.slice(0, active.column).reduce((n, c) => n + c.width, 34);
    const right = left + (columns[active.column]?.width ?? 0);
    const frozen = 34 + (columns[0]?.width ?? 0);
    if (!el) return;
    if (active.column > 0 && left - el.scrollLeft < frozen) el.scrollLeft = left - frozen;
    else if (right - el.scrollLeft > el.clientWidth) el.scrollLeft = right - el.clientWidth;
  }, [active, columns, virtual]);

  const moveTo = (row: number, column: number, extend = false) => {
    const next = { row: Math.max(0, Math.min(rows.length - 1, row)), column: Math.max(0, Math.min(columns.length - 1, column)) };
    setAnchor(extend ? (anchor ?? active) : undefined);
    setActive(next);
    if (next.row !== active.row) onSelect(next.row);
  };

  const stopEditing = () => {
    setEditing(undefined);
    onTyping(undefined);
    scroller.current?.focus({ preventScroll: true });
  };

  const begin = (text: string | undefined) => {
    const column = columns[active.column];
    const row = rows[active.row];
    if (!column?.editable || row === undefined) return;
    setAnchor(undefined);
    setEditing({ ...active, text: text ?? column.read(row) });
    if (text !== undefined) onTyping({ ...active, text });
  };

  const keep = (down: number, right: number): boolean => {
    if (!editing) return true;
    const { row, column, text } = editing;
    const error = onWrite([{ row, column, text }]);
    if (error !== undefined) {
      setEditing({ ...editing, error });
      return false;
    }
    stopEditing();
    moveTo(row + down, column + right);
    return true;
  };

  const cellsOfRange = (): string[][] =>
    rows.slice(range.top, range.bottom + 1).map((r) => columns.slice(range.left, range.right + 1).map((c) => c.read(r)));

  const [notice, setNotice] = useState<string | undefined>();
  const writeAll = (writes: CellWrite[]) => {
    const fit = writes.filter((w) => w.row < rows.length && columns[w.column]?.editable);
    if (fit.length > 0) setNotice(onWrite(fit));
  };

  const onKeyDown = (e: KeyboardEvent) => {
    if (editing) return;
    setNotice(undefined);
    const { row, column } = active;
    const moves: Record<string, [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
      PageUp: [row - PAGE_ROWS, column],
      PageDown: [row + PAGE_ROWS, column],
      Home: [e.ctrlKey ? 0 : row, 0],
      End: [e.ctrlKey ? rows.length - 1 : row, columns.length - 1],
    };
    const move = moves[e.key];
    if (move) moveTo(move[0], move[1], e.shiftKey);
    else if (e.key === 'Tab' && (e.shiftKey ? column > 0 : column < columns.length - 1)) moveTo(row, column + (e.shiftKey ? -1 : 1));
    else if (e.key === 'Enter' || e.key === 'F2') begin(undefined);
    else if (e.key === 'Delete' || e.key === 'Backspace') {
      const writes: CellWrite[] = [];
      for (let r = range.top; r <= range.bottom; r++)
        for (let c = range.left; c <= range.right; c++) writes.push({ row: r, column: c, text: '' });
      writeAll(writes);
    } else if (e.key === 'Escape') setAnchor(undefined);
    else if (e.key.length === 1 && !e.ctrlKey && !e.metaKey && !e.altKey && e.key !== '?') begin(e.key);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };

  const onCopy = (e: ClipboardEvent) => {
    if (editing) return;
    e.preventDefault();
    e.clipboardData.setData('text/plain', toSheetText(cellsOfRange()));
  };

  const onPaste = (e: ClipboardEvent) => {
    if (editing) return;
    e.preventDefault();
    const cells = fromSheetText(e.clipboardData.getData('text/plain'));
    // One value fills the whole range.
    const fill = cells.length === 1 && cells[0]!.length === 1 ? cells[0]![0]! : undefined;
    const writes: CellWrite[] = [];
    if (fill !== undefined)
      for (let r = range.top; r <= range.bottom; r++)
        for (let c = range.left; c <= range.right; c++) writes.push({ row: r, column: c, text: fill });
    else cells.forEach((line, r) => line.forEach((text, c) => writes.push({ row: range.top + r, column: range.left + c, text })));
    writeAll(writes);
  };

  const cellId = (c: Cell): string => `${id}-${c.row}-${c.column}`;
  const edges = columns.map((_, i) => columns.slice(0, i).reduce((n, c) => n + c.width, 34));

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div
        ref={scroller}
        role="grid"
        aria-label={label}
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length}
        aria-multiselectable="true"
        aria-activedescendant={rows.length > 0 && !editing ? cellId(active) : undefined}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onCopy={onCopy}
        onPaste={onPaste}
        className="min-h-0 flex-1 overflow-auto bg-paper outline-offset-[-2px]"
      >
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-20 flex border-b border-ink bg-ground text-[0.87rem] font-semibold"
          style={{ width }}
        >
          <span className="sticky left-0 z-10 w-[34px] shrink-0 bg-ground" />
          {columns.map((c, i) => (
            <span
              key={c.key}
              role="columnheader"
              aria-colindex={i + 1}
              className={`shrink-0 border-l border-rule px-2 py-1 ${i === 0 ? 'sticky left-[34px] z-10 bg-ground' : ''}`}
              style={{ width: c.width }}
            >
              {c.title}
            </span>
          ))}
        </div>
        <div className="relative" style={{ height: virtual.getTotalSize(), width }}>
          {virtual.getVirtualItems().map((v) => {
            const row = rows[v.index];
            if (row === undefined) return null;
            const rowMark = mark(row, undefined);
            const here = v.index === active.row;
            return (
              <div
                key={keyOf(row)}
                role="row"
                aria-rowindex={v.index + 2}
                className="absolute flex border-b border-rule"
                style={{ top: v.start, height: ROW_HEIGHT, width }}
              >
                <span className={`sticky left-0 z-10 flex w-[34px] shrink-0 items-center justify-center ${here ? 'bg-wash' : 'bg-paper'}`}>
                  {rowMark ? (
                    <span title={rowMark.text} className={`size-2.5 rotate-45 ${DOT[rowMark.tone]}`} />
                  ) : (
                    <span className="text-xs text-ink-2 figures">{v.index + 1}</span>
                  )}
                </span>
                {columns.map((c, i) => {
                  const cell = { row: v.index, column: i };
                  const isActive = here && i === active.column;
                  const inRange = v.index >= range.top && v.index <= range.bottom && i >= range.left && i <= range.right;
                  const found = mark(row, c);
                  const content = show?.(row, c) ?? c.read(row);
                  return (
                    <span
                      key={c.key}
                      id={cellId(cell)}
                      role="gridcell"
                      aria-colindex={i + 1}
                      aria-selected={inRange}
                      aria-readonly={!c.editable}
                      title={found?.text ?? c.read(row)}
                      onMouseDown={(e) => {
                        if (editing && !keep(0, 0)) return;
                        moveTo(v.index, i, e.shiftKey);
                      }}
                      onMouseEnter={(e) => e.buttons === 1 && !editing && moveTo(v.index, i, true)}
                      onDoubleClick={() => begin(undefined)}
                      className={`flex shrink-0 items-center overflow-hidden border-l border-rule px-2 select-none ${i === 0 ? 'sticky left-[34px] z-10' : ''} ${inRange && (anchor || isActive) ? 'bg-wash' : here ? 'bg-[color-mix(in_srgb,var(--wash)_55%,var(--paper))]' : 'bg-paper'} ${isActive ? 'z-[11] outline-2 outline-offset-[-2px] outline-accent' : ''} ${c.editable ? '' : 'text-ink-2'}`}
                      style={{ width: c.width }}
                    >
                      <span
                        className={`truncate ${c.wire ? 'wire' : ''} ${found ? `underline decoration-wavy decoration-1 underline-offset-3 ${UNDERLINE[found.tone]}` : ''}`}
                      >
                        {content === '' && found ? <span className="text-ink-2">not written yet</span> : content}
                      </span>
                    </span>
                  );
                })}
                {editing?.row === v.index ? (
                  <CellEditor
                    key={`${editing.row} ${editing.column}`}
                    editing={editing}
                    column={columns[editing.column]!}
                    left={edges[editing.column]!}
                    onText={(text) => {
                      setEditing({ row: editing.row, column: editing.column, text });
                      onTyping({ row: editing.row, column: editing.column, text });
                    }}
                    onKeep={keep}
                    onCancel={stopEditing}
                  />
                ) : null}
              </div>
            );
          })}
        </div>
      </div>
      {notice ? (
        <p role="alert" className="border-t border-stop px-3 py-1.5 text-stop">
          {notice}
        </p>
      ) : null}
    </div>
  );
};
