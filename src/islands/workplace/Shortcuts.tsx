/** The keys, on one card. */
import { DialogCard, DialogClose } from '../../ui/DialogCard';

const KEYS: readonly (readonly [string, string])[] = [
  ['1 … 6', 'Go to a station'],
  ['Ctrl K', 'Find or do anything'],
  ['Ctrl Z · Ctrl Shift Z', 'Undo · redo, across the whole plan'],
  ['?', 'This card'],
  ['Arrows · Tab', 'In the ledger: move'],
  ['Shift + arrows', 'In the ledger: choose a range'],
  ['Enter, F2 or any letter', 'In the ledger: edit the cell'],
  ['Enter · Tab · Escape', 'While editing: keep and go down · keep and go right · put back'],
  ['Ctrl C · Ctrl V', 'In the ledger: copy a range to a sheet · paste one from a sheet'],
  ['Delete', 'In the ledger: empty the chosen cells'],
  ['Ctrl D', 'In the ledger: fill down'],
  ['Ctrl Enter', 'In the ledger: open the row · while editing: keep it in all chosen cells'],
  ['Alt + up, down', 'In the ledger: move an event; grouped by flow, also into the next one. With the mouse: take it by its number'],
  ['Space', 'In the ledger: turn a yes into a no, and back'],
];

export const Shortcuts = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => (
  <DialogCard title="Keys" width="w-[640px]" open={open} onOpenChange={onOpenChange}>
    <dl className="grid grid-cols-[220px_1fr] gap-x-6">
      {KEYS.map(([key, what]) => (
        <div key={key} className="contents border-rule">
          <dt className="border-t border-rule py-1.5 wire font-semibold">{key}</dt>
          <dd className="border-t border-rule py-1.5">{what}</dd>
        </div>
      ))}
    </dl>
    <p className="mt-4">
      <DialogClose>Close</DialogClose>
    </p>
  </DialogCard>
);
