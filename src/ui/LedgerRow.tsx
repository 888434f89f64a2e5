/** A row of the ledger, drawn again only when something of its own changes. */
import { memo, useCallback, useRef, type MouseEvent, type ReactNode } from 'react';
import type { Column } from './ledger-model';
import { useRowDrag, type Edge } from './row-drag';

export const ROW_HEIGHT = 31;
export const GROUP_HEIGHT = 28;
export const GUTTER = 34;

export type Tone = 'stop' | 'caution' | 'note';
export type Mark = (row: string, key: string | undefined) => { readonly tone: Tone; readonly text: string } | undefined;

const UNDERLINE = { stop: 'decoration-stop', caution: 'decoration-caution-fill', note: 'decoration-ink-2' } as const;
const DOT = { stop: 'bg-stop', caution: 'bg-caution-fill', note: 'bg-ink-2' } as const;

interface RowProps {
  readonly row: string;
  readonly index: number;
  readonly top: number;
  readonly width: number;
  readonly group: string | undefined;
  readonly columns: readonly Column[];
  /** Column of the active cell, −1 in other rows. */
  readonly active: number;
  /** Chosen columns of this row. */
  readonly from: number;
  readonly to: number;
  readonly wide: boolean;
  readonly id: string;
  readonly mark: Mark;
  readonly show: ((row: string, key: string) => ReactNode) | undefined;
  readonly other: string | undefined;
  /** It can be taken by its number and put elsewhere. */
  readonly movable: boolean;
  readonly acts: { readonly current: Acts };
  readonly children?: ReactNode;
}

export interface Acts {
  readonly press: (row: number, column: number, extend: boolean) => void;
  readonly drag: (row: number, column: number) => void;
  readonly edit: () => void;
  readonly open: (row: number) => void;
  readonly place: (from: number, to: number, edge: Edge) => void;
}

/** The column of the cell under the mouse, −1 beside the cells. One handler a row, since a row is drawn anew with every step of the wheel. */
const columnAt = (e: MouseEvent): number => {
  const cell = (e.target as HTMLElement).closest<HTMLElement>('[data-column]');
  return cell ? Number(cell.dataset['column']) : -1;
};

export const LedgerRow = memo(
  ({ row, index, top, width, group, columns, active, from, to, wide, id, mark, show, other, movable, acts, children }: RowProps) => {
    const cells = useRef<HTMLDivElement>(null);
    const gutter = useRef<HTMLSpanElement>(null);
    const place = useCallback((f: number, t: number, e: Edge) => acts.current.place(f, t, e), [acts]);
    const edge = useRowDrag(id, index, cells, gutter, movable ? place : undefined);
    const rowMark = mark(row, undefined);
    const here = active >= 0;
    return (
      <div
        role="row"
        aria-rowindex={index + 2}
        className="absolute"
        style={{ top, height: ROW_HEIGHT + (group === undefined ? 0 : GROUP_HEIGHT), width }}
      >
        {group === undefined ? null : (
          <div role="presentation" className="border-b border-rule bg-ground" style={{ height: GROUP_HEIGHT }}>
            <span className="sticky left-0 inline-block px-3 pt-1 font-bold">{group}</span>
          </div>
        )}
        <div
          ref={cells}
          role="presentation"
          className="relative flex border-b border-rule"
          style={{ height: ROW_HEIGHT }}
          onMouseDown={(e) => {
            const column = columnAt(e);
            if (column >= 0) acts.current.press(index, column, e.shiftKey);
          }}
          // By keys a range is chosen with Shift and the arrows, in the grid.
          // eslint-disable-next-line jsx-a11y/mouse-events-have-key-events
          onMouseOver={(e) => {
            const column = e.buttons === 1 ? columnAt(e) : -1;
            if (column >= 0) acts.current.drag(index, column);
          }}
          onDoubleClick={(e) => {
            if (columnAt(e) >= 0) acts.current.edit();
            else if ((e.target as HTMLElement).closest('[data-gutter]')) acts.current.open(index);
          }}
        >
          {edge ? (
            <span className={`absolute inset-x-0 z-30 h-[3px] bg-accent ${edge === 'above' ? '-top-[2px]' : '-bottom-[2px]'}`} />
          ) : null}
          <span
            ref={gutter}
            role="presentation"
            data-gutter
            className={`${movable ? 'cursor-grab' : ''} sticky left-0 z-10 flex w-[34px] shrink-0 items-center justify-center ${here ? 'bg-wash' : 'bg-paper'} ${other ? 'border-l-4 border-l-accent' : ''}`}
            title={other ? `${other} is here` : movable ? 'Drag to move; double-click to open' : undefined}
          >
            {rowMark ? (
              <span title={rowMark.text} className={`size-2.5 rotate-45 ${DOT[rowMark.tone]}`} />
            ) : (
              <span className="text-xs text-ink-2 figures">{index + 1}</span>
            )}
          </span>
          {columns.map((c, i) => {
            const isActive = i === active;
            const inRange = i >= from && i <= to;
            const found = mark(row, c.key);
            const text = c.read(row);
            const content = show?.(row, c.key) ?? text;
            return (
              <span
                key={c.key}
                id={`${id}-${index}-${i}`}
                data-column={i}
                role="gridcell"
                aria-colindex={i + 1}
                aria-selected={inRange}
                aria-readonly={!c.editable}
                title={found?.text ?? text}
                className={`block shrink-0 overflow-hidden border-l border-rule px-2 leading-[30px] text-ellipsis whitespace-nowrap select-none ${c.wire ? 'wire' : ''} ${i === 0 ? 'sticky left-[34px] z-10' : ''} ${inRange && (wide || isActive) ? 'bg-wash' : here ? 'bg-[color-mix(in_srgb,var(--wash)_55%,var(--paper))]' : 'bg-paper'} ${isActive ? 'z-[11] outline-2 outline-offset-[-2px] outline-accent' : ''} ${c.editable ? '' : 'text-ink-2'} ${found ? `underline decoration-wavy decoration-1 underline-offset-3 ${UNDERLINE[found.tone]}` : ''}`}
                style={{ width: c.width }}
              >
                {content === '' && found ? <span className="text-ink-2">not written yet</span> : content}
              </span>
            );
          })}
          {children}
        </div>
      </div>
    );
  },
);
