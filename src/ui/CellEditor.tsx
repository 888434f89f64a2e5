/** The editor of a ledger's cell: Enter and Tab keep the text, Escape puts it back, and what is wrong with it stands below. */
import { useId, useRef } from 'react';
import type { Cell, Column } from './ledger-model';

export interface Editing extends Cell {
  readonly text: string;
  readonly error?: string;
}

interface EditorProps<Row> {
  readonly editing: Editing;
  readonly column: Column<Row>;
  readonly left: number;
  readonly onText: (text: string) => void;
  readonly onKeep: (down: number, right: number) => boolean;
  readonly onCancel: () => void;
}

export const CellEditor = <Row,>({ editing, column, left, onText, onKeep, onCancel }: EditorProps<Row>) => {
  const list = useId();
  const errorId = useId();
  // Unmounting blurs the field: once it is settled, that must not keep the text after all.
  const settled = useRef(false);
  const keep = (down: number, right: number) => {
    if (settled.current) return;
    settled.current = true;
    settled.current = onKeep(down, right);
  };
  return (
    <span className="absolute z-30" style={{ left, top: 0, width: Math.max(column.width, 170) }}>
      <input
        autoFocus
        aria-label={column.title}
        aria-invalid={editing.error !== undefined}
        aria-describedby={editing.error ? errorId : undefined}
        list={column.options ? list : undefined}
        value={editing.text}
        onFocus={(e) => e.currentTarget.setSelectionRange(e.currentTarget.value.length, e.currentTarget.value.length)}
        onChange={(e) => onText(e.target.value)}
        onBlur={() => keep(0, 0)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') keep(e.shiftKey ? -1 : 1, 0);
          else if (e.key === 'Tab') keep(0, e.shiftKey ? -1 : 1);
          else if (e.key === 'Escape') {
            settled.current = true;
            onCancel();
          } else return;
          e.preventDefault();
        }}
        className={`h-[31px] w-full border-2 border-accent bg-paper px-1.5 outline-none ${column.wire ? 'wire' : ''}`}
      />
      {column.options ? (
        <datalist id={list}>
          {column.options.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      ) : null}
      {editing.error ? (
        <span
          id={errorId}
          role="alert"
          className="absolute top-[31px] left-0 z-40 w-max max-w-[340px] bg-stop px-2 py-1 text-sm text-paper"
        >
          {editing.error}
        </span>
      ) : null}
    </span>
  );
};
