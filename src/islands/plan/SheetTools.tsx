/** What is over a sheet's ledger: the choice of columns, and find and replace. */
import { Columns3 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Sheet } from '../../core/plan/fields/sheets';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { plural } from '../../ui/format';
import { usePlan } from '../workplace/context';
import { shownFields, type View } from '../../core/plan/sheet-view';

export const ColumnChoice = ({ sheet, view, onChange }: { sheet: Sheet; view: View; onChange: (c: Partial<View>) => void }) => {
  const shown = new Set(shownFields(usePlan(), sheet, view).map((f) => f.key));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look="quiet" aria-label="Choose columns" title="Choose columns">
          <Columns3 size={15} />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          className="z-40 max-h-[70vh] w-60 overflow-y-auto border border-ink bg-paper p-3 shadow-[4px_4px_0_var(--rule)]"
        >
          {sheet.fields.slice(1).map((f) => (
            <label key={f.key} className="flex min-h-[26px] items-center gap-2">
              <input
                type="checkbox"
                className="accent-accent"
                checked={shown.has(f.key)}
                onChange={(e) => {
                  const keys = sheet.fields.filter((x) => (x.key === f.key ? e.target.checked : shown.has(x.key))).map((x) => x.key);
                  onChange({ columns: keys });
                }}
              />
              {f.title}
            </label>
          ))}
          <Button look="quiet" className="mt-1 text-sm" onClick={() => onChange({ columns: undefined })}>
            Reset
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};

export const FindAndReplace = ({
  count: countOf,
  onReplace,
  onClose,
}: {
  count: (find: string, matchCase: boolean) => number;
  onReplace: (find: string, by: string, matchCase: boolean) => void;
  onClose: () => void;
}) => {
  const [find, setFind] = useState('');
  const [by, setBy] = useState('');
  const [matchCase, setMatchCase] = useState(true);
  const n = countOf(find, matchCase);
  const input = 'border border-rule bg-transparent px-2 py-0.5 wire placeholder:font-sans placeholder:text-ink-2';
  return (
    <OpenForm
      onClose={onClose}
      className="flex flex-wrap items-center gap-2 border-b border-rule bg-ground px-3 py-1.5"
      onSubmit={() => {
        if (n > 0) onReplace(find, by, matchCase);
      }}
    >
      <input autoFocus aria-label="Find" placeholder="Find" value={find} onChange={(e) => setFind(e.target.value)} className={input} />
      <input aria-label="Replace with" placeholder="Replace with" value={by} onChange={(e) => setBy(e.target.value)} className={input} />
      <label className="flex items-center gap-1.5 text-sm">
        <input type="checkbox" className="accent-accent" checked={matchCase} onChange={(e) => setMatchCase(e.target.checked)} /> matching
        case
      </label>
      <span className="text-sm text-ink-2" role="status">
        {find === '' ? 'In the visible columns and rows.' : `${plural(n, 'cell')} hold it.`}
      </span>
      <Button type="submit" look="full" className="ml-auto" disabled={n === 0}>
        Replace in all
      </Button>
      <Cancel />
    </OpenForm>
  );
};
