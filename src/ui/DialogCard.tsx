/** A dialog on a card over the page: its title, its content, closed by Escape or from within. */
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  /** Width as a class, such as `w-[640px]`. */
  readonly width: string;
  /** The content fills the card to its edges, and the title is for screen readers alone. */
  readonly bare?: boolean;
  readonly children: ReactNode;
}

export const DialogCard = ({ title, open, onOpenChange, width, bare = false, children }: Props) => (
  <Dialog.Root open={open} onOpenChange={onOpenChange}>
    <Dialog.Portal>
      <Dialog.Overlay className="bg-black/30 fixed inset-0 z-40" />
      <Dialog.Content
        aria-describedby={undefined}
        className={`fixed top-24 left-1/2 z-50 max-w-[92vw] -translate-x-1/2 border border-ink bg-paper shadow-[6px_6px_0_var(--rule)] ${width} ${bare ? '' : 'p-6'}`}
      >
        <Dialog.Title className={bare ? 'sr-only' : 'mb-2 text-lg font-bold'}>{title}</Dialog.Title>
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
);

/** A button that closes the card that it is in. */
export const DialogClose = ({ children }: { children: ReactNode }) => (
  <Dialog.Close className="font-semibold text-accent underline">{children}</Dialog.Close>
);
