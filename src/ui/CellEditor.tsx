/** The editor of a ledger's cell: Enter and Tab keep the text, Escape puts it back, and what is wrong with it is below.
 *  Where there are values to choose from, they are offered while one types; a list offers them for the item at the caret.
 */
import { useId, useLayoutEffect, useRef, useState } from 'react';
import { itemAt, type Cell, type Column } from './ledger-model';

export interface Editing extends Cell {
  readonly text: string;
  readonly error?: string;
  /** Text was typed or chosen, so that the offers are narrowed by it. */
  readonly touched?: boolean;
}

interface EditorProps {
  readonly editing: Editing;
  readonly row: string;
  readonly column: Column;
  readonly left: number;
  readonly onText: (text: string) => void;
  /** Keeps the text and moves; with `all` it goes into every chosen cell. */
  readonly onKeep: (text: string, down: number, right: number, all: boolean) => boolean;
  readonly onCancel: () => void;
}

const MAX_OFFERED = 9;

export const CellEditor = ({ editing, row, column, left, onText, onKeep, onCancel }: EditorProps) => {
  const { editor, options } = column.editorOf(row);
  const listId = useId();
  const errorId = useId();
  const field = useRef<HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState(editing.text.length);
  const [chosen, setChosen] = useState(-1);
  // Unmounting blurs the field: once it is settled, that must not keep the text after all.
  const settled = useRef(false);
  const isList = editor === 'list';
  const item = isList ? itemAt(editing.text, caret) : { from: 0, to: editing.text.length, item: editing.text.trim() };
  const needle = editing.touched ? item.item.toLowerCase() : isList && !editing.text.trim().endsWith(',') ? item.item.toLowerCase() : '';
  const offered =
    options.length === 0
      ? []
      : options
          .filter((o) => o.toLowerCase().includes(needle) && (!isList || o !== item.item))
          .sort((a, b) => Number(b.toLowerCase().startsWith(needle)) - Number(a.toLowerCase().startsWith(needle)))
          .slice(0, MAX_OFFERED);
  useLayoutEffect(() => {
    const el = field.current;
    if (!el) return;
    el.focus();
    // One of a few values is replaced by what is typed; a text is written on.
    const isOneOf = (editor === 'choice' || editor === 'flag') && !editing.touched;
    el.setSelectionRange(isOneOf ? 0 : el.value.length, el.value.length);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- where the editing begins, once
  }, []);
  useLayoutEffect(() => {
    const el = field.current;
    if (!el) return;
    el.style.height = '31px';
    if (editor === 'long' || editor === 'list') el.style.height = `${Math.min(Math.max(31, el.scrollHeight + 2), 180)}px`;
  }, [editing.text, editor]);
  const keep = (text: string, down: number, right: number, all = false) => {
    if (settled.current) return;
    settled.current = true;
    settled.current = onKeep(text, down, right, all);
  };
  const withOffer = (o: string): string => {
    if (!isList) return o;
    const before = editing.text.slice(0, item.from);
    return `${before}${before === '' ? '' : ' '}${o}${editing.text.slice(item.to)}`.replace(/^\s+/, '');
  };
  const take = (o: string) => {
    const text = withOffer(o);
    setChosen(-1);
    onText(text);
    setCaret(text.length);
  };
  return (
    <span className="absolute z-30" style={{ left, top: 0, width: Math.max(column.width, editor === 'long' ? 340 : isList ? 260 : 170) }}>
      <textarea
        ref={field}
        rows={1}
        role={options.length > 0 ? 'combobox' : undefined}
        aria-label={column.title}
        aria-invalid={editing.error !== undefined}
        aria-describedby={editing.error ? errorId : undefined}
        aria-expanded={options.length > 0 ? offered.length > 0 : undefined}
        aria-controls={options.length > 0 ? listId : undefined}
        aria-activedescendant={chosen >= 0 ? `${listId}-${chosen}` : undefined}
        value={editing.text}
        onChange={(e) => {
          setChosen(-1);
          setCaret(e.target.selectionStart);
          onText(editor === 'long' ? e.target.value : e.target.value.replaceAll('\n', ' '));
        }}
        onSelect={(e) => setCaret(e.currentTarget.selectionStart)}
        onBlur={() => keep(editing.text, 0, 0)}
        onKeyDown={(e) => {
          e.stopPropagation();
          const offer = chosen >= 0 ? offered[chosen] : undefined;
          if (e.key === 'Enter' && e.shiftKey && editor === 'long') return;
          if (e.key === 'Enter' && offer !== undefined && isList) take(offer);
          else if (e.key === 'Enter')
            keep(offer ?? editing.text, e.shiftKey ? -1 : e.ctrlKey || e.metaKey ? 0 : 1, 0, e.ctrlKey || e.metaKey);
          else if (e.key === 'Tab') keep(offer === undefined ? editing.text : withOffer(offer), 0, e.shiftKey ? -1 : 1);
          else if (e.key === 'Escape') {
            settled.current = true;
            onCancel();
          } else if (e.key === 'ArrowDown' && offered.length > 0) setChosen((c) => (c + 1) % offered.length);
          else if (e.key === 'ArrowUp' && offered.length > 0) setChosen((c) => (c <= 0 ? offered.length - 1 : c - 1));
          else return;
          e.preventDefault();
        }}
        className={`block h-[31px] w-full resize-none overflow-hidden border-2 border-accent bg-paper px-1.5 py-[3px] leading-snug outline-none ${column.wire ? 'wire' : ''}`}
      />
      <span
        id={listId}
        role={options.length > 0 ? 'listbox' : undefined}
        aria-label={options.length > 0 ? `${column.title}, choices` : undefined}
      >
        {offered.length > 0 ? (
          <span className="block max-w-[420px] border border-t-0 border-ink bg-paper shadow-[4px_4px_0_var(--rule)]">
            {offered.map((o, i) => (
              // The field keeps the focus, and says which choice is meant.
              // eslint-disable-next-line jsx-a11y/interactive-supports-focus
              <span
                key={o}
                id={`${listId}-${i}`}
                role="option"
                aria-selected={i === chosen}
                onMouseDown={(e) => {
                  e.preventDefault();
                  e.stopPropagation();
                  if (isList) take(o);
                  else keep(o, 0, 0);
                }}
                className={`block truncate px-2 py-0.5 ${i === chosen ? 'bg-accent text-accent-ink' : 'hover:bg-wash'} ${column.wire ? 'wire' : ''}`}
              >
                {o}
              </span>
            ))}
          </span>
        ) : null}
      </span>
      {editing.error ? (
        <span id={errorId} role="alert" className="relative z-40 block w-max max-w-[340px] bg-stop px-2 py-1 text-sm text-paper">
          {editing.error}
        </span>
      ) : null}
    </span>
  );
};
