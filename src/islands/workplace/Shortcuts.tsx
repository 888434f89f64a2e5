/** The keys, on one card. */
import { DialogCard, DialogClose } from '../../ui/DialogCard';
import { SHORTCUT_LIST } from '../../ui/shortcuts';

export const Shortcuts = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => (
  <DialogCard title="Keyboard shortcuts" width="w-[680px]" open={open} onOpenChange={onOpenChange}>
    {SHORTCUT_LIST.map(({ title, shortcuts }) => (
      <section key={title} className="mb-3">
        <h3 className="pb-1 font-semibold text-ink-2">{title}</h3>
        <dl className="grid grid-cols-[240px_1fr] gap-x-6">
          {shortcuts.map(({ keys, what }) => (
            <div key={keys + what} className="contents border-rule">
              <dt className="border-t border-rule py-1 wire font-semibold">{keys}</dt>
              <dd className="border-t border-rule py-1">{what}</dd>
            </div>
          ))}
        </dl>
      </section>
    ))}
    <p className="mt-4">
      <DialogClose>Close</DialogClose>
    </p>
  </DialogCard>
);
