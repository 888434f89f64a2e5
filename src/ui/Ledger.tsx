/** The ledger: a virtualised grid that is edited where it is read, by keyboard, with ranges to and from a sheet.
 *  Long because keyboard, mouse and clipboard act on one active cell and one range.
 */
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useId, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from 'react';
import { GROUP_HEIGHT, GUTTER, LedgerRow, ROW_HEIGHT, type Acts, type Mark } from './LedgerRow';
import type { Edge } from './row-drag';
import { CellEditor, type Editing } from './CellEditor';
import { shortcutOf } from './shortcuts';
import type { CellWrite } from '../core/plan/sheet-writes';
import { fillDown, pasteInto, rangeOf, toSheetText, type Cell, type Column } from './ledger-model';

export type { Column } from './ledger-model';
export type { CellWrite };
export type { Mark } from './LedgerRow';

const PAGE_ROWS = 15;

interface Props {
  readonly label: string;
  readonly columns: readonly Column[];
  /** Ids of the rows, in the order in which they are. */
  readonly rows: readonly string[];
  /** Titles of groups, by the row that each begins with. */
  readonly groups?: ReadonlyMap<number, string>;
  readonly selected: number;
  readonly onSelect: (row: number) => void;
  /** Writes cells, all or none. A text comes back when they are refused: it is shown at the cell. */
  readonly onWrite: (writes: readonly CellWrite[]) => string | undefined;
  /** What is being typed and not yet kept; `undefined` when editing ends. */
  readonly onTyping: (write: CellWrite | undefined) => void;
  /** Opens a row: Ctrl Enter, or a double click on its number. */
  readonly onOpen?: (row: number) => void;
  /** Moves a row up or down among its fellows: Alt and an arrow. */
  readonly onMove?: (row: number, by: -1 | 1) => void;
  /** A row was dragged above or below another. Rows cannot be taken where it is left out. */
  readonly onPlace?: (from: number, to: number, edge: Edge) => void;
  readonly sort?: { readonly key: string; readonly down: boolean } | undefined;
  readonly onSort?: (key: string) => void;
  readonly show?: (row: string, key: string) => ReactNode;
  readonly mark: Mark;
  /** Names of others who are at a row. */
  readonly others?: ReadonlyMap<string, string>;
}

export const Ledger = ({
  label,
  columns,
  rows,
  groups,
  selected,
  onSelect,
  onWrite,
  onTyping,
  onOpen,
  onMove,
  onPlace,
  sort,
  onSort,
  show,
  mark,
  others,
}: Props) => {
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const [active, setActive] = useState<Cell>({ row: selected, column: 0 });
  const [anchor, setAnchor] = useState<Cell | undefined>();
  const [editing, setEditing] = useState<Editing | undefined>();
  const [notice, setNotice] = useState<string | undefined>();
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => ROW_HEIGHT + (groups?.has(i) ? GROUP_HEIGHT : 0),
    overscan: 5,
    // The head of the columns lies over the rows, and takes a row's height away from what is seen of them.
    scrollPaddingEnd: ROW_HEIGHT + 8,
  });
  useEffect(() => virtual.measure(), [groups, virtual]);
  const range = rangeOf(anchor ?? active, active);
  const edges = useMemo(() => {
    let at = GUTTER;
    return columns.map((c) => {
      const left = at;
      at += c.width;
      return left;
    });
  }, [columns]);
  const width = (edges.at(-1) ?? GUTTER) + (columns.at(-1)?.width ?? 0);

  useEffect(() => {
    if (selected !== active.row && selected >= 0) setActive((a) => ({ ...a, row: selected }));
    // Only a choice from outside moves the cell.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected]);
  useEffect(() => {
    virtual.scrollToIndex(active.row, { align: 'auto' });
    const el = scroller.current;
    const left = edges[active.column] ?? GUTTER;
    const right = left + (columns[active.column]?.width ?? 0);
    const frozen = GUTTER + (columns[0]?.width ?? 0);
    if (!el) return;
    if (active.column > 0 && left - el.scrollLeft < frozen) el.scrollLeft = left - frozen;
    else if (right - el.scrollLeft > el.clientWidth) el.scrollLeft = right - el.clientWidth;
  }, [active, columns, edges, virtual]);

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

  const writeAll = (writes: readonly CellWrite[]) => {
    const fit = writes.filter((w) => w.row < rows.length && columns[w.column]?.editable);
    const beyond = writes.length - fit.length;
    if (fit.length === 0) {
      if (writes.length > 0) setNotice('These cells are read-only.');
      return;
    }
    const refused = onWrite(fit);
    setNotice(refused ?? (beyond > 0 ? `${beyond} cells are outside the ledger or read-only; they were skipped.` : undefined));
  };

  const begin = (text: string | undefined) => {
    const column = columns[active.column];
    const row = rows[active.row];
    if (!column?.editable || row === undefined) return;
    if (column.editorOf(row).editor === 'flag') {
      const flag = text === undefined || text === ' ' ? (column.read(row) === 'yes' ? 'no' : 'yes') : text;
      writeAll([{ ...active, text: flag }]);
      return;
    }
    setEditing({ ...active, text: text ?? column.read(row), ...(text === undefined ? {} : { touched: true }) });
    if (text !== undefined) onTyping({ ...active, text });
  };

  const cellsOf = (): CellWrite[] => {
    const out: CellWrite[] = [];
    for (let r = range.top; r <= range.bottom; r++)
      for (let c = range.left; c <= range.right; c++) out.push({ row: r, column: c, text: '' });
    return out;
  };

  const keep = (text: string, down: number, right: number, all: boolean): boolean => {
    if (!editing) return true;
    const { row, column } = editing;
    const unchanged = !all && text === columns[column]!.read(rows[row]!);
    const writes = all ? cellsOf().map((w) => ({ ...w, text })) : [{ row, column, text }];
    const error = unchanged ? undefined : onWrite(writes.filter((w) => columns[w.column]?.editable));
    if (error !== undefined) {
      setEditing({ ...editing, text, error });
      return false;
    }
    stopEditing();
    if (!all) moveTo(row + down, column + right);
    return true;
  };

  const acts = useRef<Acts>({
    press: () => undefined,
    drag: () => undefined,
    edit: () => undefined,
    open: () => undefined,
    place: () => undefined,
  });
  acts.current = {
    press: (row, column, extend) => {
      if (editing && !keep(editing.text, 0, 0, false)) return;
      moveTo(row, column, extend);
    },
    drag: (row, column) => {
      if (!editing) moveTo(row, column, true);
    },
    edit: () => begin(undefined),
    open: (row) => onOpen?.(row),
    place: (from, to, edge) => onPlace?.(from, to, edge),
  };

  const onKeyDown = (e: KeyboardEvent) => {
    if (editing) return;
    setNotice(undefined);
    const { row, column } = active;
    const command = e.ctrlKey || e.metaKey;
    const moves: Record<string, [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
      PageUp: [row - PAGE_ROWS, column],
      PageDown: [row + PAGE_ROWS, column],
      Home: [command ? 0 : row, 0],
      End: [command ? rows.length - 1 : row, columns.length - 1],
    };
    const [toRow, toColumn] = moves[e.key] ?? [row, column];
    switch (shortcutOf('ledger', e)) {
      case 'moveRow':
        onMove?.(row, e.key === 'ArrowUp' ? -1 : 1);
        break;
      case 'move':
        moveTo(toRow, toColumn, e.shiftKey);
        break;
      case 'nextCell':
        // At the edge of the ledger Tab leaves it.
        if (e.shiftKey ? column === 0 : column >= columns.length - 1) return;
        moveTo(row, column + (e.shiftKey ? -1 : 1));
        break;
      case 'openRow':
        onOpen?.(row);
        break;
      case 'edit':
        begin(undefined);
        break;
      case 'fillDown':
        writeAll(fillDown(range, (c) => columns[c.column]!.read(rows[c.row]!)));
        break;
      case 'selectAll':
        setAnchor({ row: 0, column: 0 });
        setActive({ row: rows.length - 1, column: columns.length - 1 });
        break;
      case 'clear':
        writeAll(cellsOf());
        break;
      case 'deselect':
        if (!anchor) return;
        setAnchor(undefined);
        break;
      case 'type':
        begin(e.key);
        break;
      default:
        return;
    }
    e.preventDefault();
    e.stopPropagation();
  };

  const onCopy = (e: ClipboardEvent) => {
    if (editing) return;
    e.preventDefault();
    const cells = rows.slice(range.top, range.bottom + 1).map((r) => columns.slice(range.left, range.right + 1).map((c) => c.read(r)));
    e.clipboardData.setData('text/plain', toSheetText(cells));
  };

  const onPaste = (e: ClipboardEvent) => {
    if (editing) return;
    e.preventDefault();
    const text = e.clipboardData.getData('text/plain');
    void import('./sheet-text').then((m) => writeAll(pasteInto(m.fromSheetText(text), range)));
  };

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div
        ref={scroller}
        role="grid"
        aria-label={label}
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length}
        aria-multiselectable="true"
        aria-activedescendant={rows.length > 0 && !editing ? `${id}-${active.row}-${active.column}` : undefined}
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
          <span role="presentation" className="sticky left-0 z-10 w-[34px] shrink-0 bg-ground" />
          {columns.map((c, i) => (
            <span
              key={c.key}
              role="columnheader"
              aria-colindex={i + 1}
              aria-sort={sort?.key === c.key ? (sort.down ? 'descending' : 'ascending') : undefined}
              className={`shrink-0 border-l border-rule ${i === 0 ? 'sticky left-[34px] z-10 bg-ground' : ''}`}
              style={{ width: c.width }}
            >
              {onSort ? (
                <button
                  type="button"
                  tabIndex={-1}
                  onClick={() => onSort(c.key)}
                  className="flex w-full items-center gap-1 px-2 py-1 text-left hover:text-accent"
                >
                  <span className="truncate">{c.title}</span>
                  {sort?.key === c.key ? sort.down ? <ArrowDown size={12} /> : <ArrowUp size={12} /> : null}
                </button>
              ) : (
                <span className="block px-2 py-1">{c.title}</span>
              )}
            </span>
          ))}
        </div>
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize(), width }}>
          {virtual.getVirtualItems().map((v) => {
            const row = rows[v.index];
            if (row === undefined) return null;
            const chosen = v.index >= range.top && v.index <= range.bottom;
            return (
              <LedgerRow
                // A row that belongs to several groups is in each.
                key={groups ? `${v.index} ${row}` : row}
                row={row}
                index={v.index}
                top={v.start}
                width={width}
                group={groups?.get(v.index)}
                columns={columns}
                active={v.index === active.row ? active.column : -1}
                from={chosen ? range.left : -1}
                to={chosen ? range.right : -2}
                wide={anchor !== undefined}
                id={id}
                mark={mark}
                show={show}
                other={others?.get(row)}
                movable={onPlace !== undefined}
                acts={acts}
              >
                {editing?.row === v.index ? (
                  <CellEditor
                    key={`${editing.row} ${editing.column}`}
                    editing={editing}
                    row={row}
                    column={columns[editing.column]!}
                    left={edges[editing.column]!}
                    onText={(text) => {
                      setEditing({ row: editing.row, column: editing.column, text, touched: true });
                      onTyping({ row: editing.row, column: editing.column, text });
                    }}
                    onKeep={keep}
                    onCancel={stopEditing}
                  />
                ) : null}
              </LedgerRow>
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
