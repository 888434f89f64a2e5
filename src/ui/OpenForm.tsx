/** A form that a press opened: Escape closes it, as its Cancel does, and the focus goes back to where it was opened. */
import { useEffect, useRef, useState, type ComponentProps, type FormEvent, type KeyboardEvent } from 'react';
import { Button } from './Button';

interface Props extends Omit<ComponentProps<'form'>, 'onSubmit'> {
  readonly onSubmit: (e: FormEvent<HTMLFormElement>) => void;
  readonly onClose: () => void;
}

const CAN_TAKE_IT = 'button:not([disabled]), [href]';
const firstIn = (e: Element | null | undefined): HTMLElement | null | undefined =>
  e?.matches(CAN_TAKE_IT) ? (e as HTMLElement) : e?.querySelector<HTMLElement>(CAN_TAKE_IT);

/** Where a form stands. */
interface Place {
  readonly within: Element | null;
  readonly before: Element | null;
  readonly after: Element | null;
}

/** Its button, where that came back in the place of the form; else what opened it; else the first thing near it. */
const backTo = (opener: Element | null, { within, before, after }: Place): void => {
  if (document.activeElement && document.activeElement !== document.body) return;
  const now = before ? before.nextElementSibling : (within?.firstElementChild ?? null);
  const inItsPlace = now === after ? undefined : firstIn(now);
  const own = opener?.isConnected && opener !== document.body ? (opener as HTMLElement) : undefined;
  (inItsPlace ?? own ?? firstIn(now) ?? firstIn(within))?.focus();
};

export const OpenForm = ({ onSubmit, onClose, children, ...rest }: Props) => {
  const own = useRef<HTMLFormElement>(null);
  const [opener] = useState(() => (typeof document === 'undefined' ? null : document.activeElement));
  const leaves = useRef<Place | undefined>(undefined);
  // When it is gone, however long that takes: a frame may be drawn before, on a machine that has other work.
  useEffect(
    () => () => {
      if (leaves.current) backTo(opener, leaves.current);
    },
    [opener],
  );
  const close = (): void => {
    const { parentElement: within = null, previousElementSibling: before = null, nextElementSibling: after = null } = own.current ?? {};
    leaves.current = { within, before, after };
    onClose();
  };
  const onKeyDown = (e: KeyboardEvent<HTMLFormElement>): void => {
    // What opens above it, such as a calendar, is closed first.
    if (e.key !== 'Escape' || e.defaultPrevented || !e.currentTarget.contains(e.target as Node)) return;
    e.preventDefault();
    e.stopPropagation();
    close();
  };
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- a key that closes it, wherever in it the focus is
    <form
      {...rest}
      ref={own}
      onKeyDown={onKeyDown}
      onReset={(e) => {
        e.preventDefault();
        close();
      }}
      onSubmit={(e) => {
        e.preventDefault();
        onSubmit(e);
      }}
    >
      {children}
    </form>
  );
};

/** The last button of such a form. */
export const Cancel = ({ className = 'text-sm' }: { readonly className?: string }) => (
  <Button type="reset" look="quiet" className={className}>
    Cancel
  </Button>
);
