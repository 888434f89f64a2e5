/** One field of an entity, edited in place, outside of a ledger. */
import type { Field, Writing } from '../../core/plan/fields/field';
import type { Id, Plan } from '../../core/plan/plan';
import { writtenTo } from '../../core/plan/sheet-writes';
import { useCommit } from '../../ui/use-commit';
import { useWorkplace } from '../workplace/context';

/** What is as wide as this in the ledger, in wire letters, needs the whole width here. */
const WIDE = 200;

const INPUT = 'w-full border border-rule bg-transparent px-2 py-1 outline-offset-[-1px] focus:border-accent';

export const FieldRow = ({ plan, field, id, how }: { plan: Plan; field: Field; id: Id; how: Omit<Writing, 'now'> }) => {
  const { store } = useWorkplace();
  const value = field.read(plan, id);
  const listId = `choices-${field.key}`;
  const save = (next: string): string | undefined => {
    const edits = writtenTo(plan, field, id, next, { ...how, now: Date.now() });
    if (typeof edits === 'string') return edits;
    return store.apply(edits, `${field.title} changed`) ? undefined : 'The plan changed in the meantime; check it, and write it again.';
  };
  const { problem: error, field: typed } = useCommit(value, save);
  const inputId = `field-${field.key}`;
  const hint = field.hint?.(plan, id);
  const options = field.options?.(plan) ?? [];
  const shared = { ...typed, id: inputId, className: `${INPUT} ${field.wire ? 'wire' : ''}` };
  return (
    <div className={field.editor === 'long' || (field.wire && field.width >= WIDE) ? 'col-span-2' : ''}>
      <label htmlFor={inputId} className="text-sm text-ink-2">
        {field.title}
      </label>
      {!field.write ? (
        <p id={inputId}>{value || '–'}</p>
      ) : field.editor === 'choice' || field.editor === 'flag' ? (
        <select id={inputId} className={shared.className} value={value} onChange={(e) => void save(e.target.value)}>
          {options.includes(value) ? null : <option value={value}>{value || '–'}</option>}
          {options.map((o) => (
            <option key={o}>{o}</option>
          ))}
        </select>
      ) : field.editor === 'long' ? (
        <textarea {...shared} rows={2} />
      ) : (
        <input {...shared} list={options.length > 0 && field.editor === 'text' ? listId : undefined} />
      )}
      {options.length > 0 && field.editor === 'text' ? (
        <datalist id={listId}>
          {options.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      ) : null}
      {hint === undefined ? null : <p className="text-sm text-ink-2">{hint}</p>}
      {error ? (
        <p role="alert" className="text-sm text-stop">
          {error}
        </p>
      ) : null}
    </div>
  );
};
