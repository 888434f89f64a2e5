/** The keys, on one card. */
import { Dialog } from 'radix-ui';

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
  <Dialog.Root open={open} onOpenChange={onOpenChange}>
    <Dialog.Portal>
      <Dialog.Overlay className="bg-black/30 fixed inset-0 z-40" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-24 left-1/2 z-50 w-[640px] max-w-[92vw] -translate-x-1/2 border border-ink bg-paper p-6 shadow-[6px_6px_0_var(--rule)]"
      >
        <Dialog.Title className="mb-3 text-lg font-bold">Keys</Dialog.Title>
        <dl className="grid grid-cols-[220px_1fr] gap-x-6">
          {KEYS.map(([key, what]) => (
            <div key={key} className="contents border-rule">
              <dt className="border-t border-rule py-1.5 wire font-semibold">{key}</dt>
              <dd className="border-t border-rule py-1.5">{what}</dd>
            </div>
          ))}
        </dl>
        <Dialog.Close className="mt-4 font-semibold text-accent underline">Close</Dialog.Close>
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
);
