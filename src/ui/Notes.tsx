/** Where short notes are drawn. */
import { useEffect, useRef } from 'react';
import { Toaster, toast } from 'sonner';

/**
 * A note is a stop on the way of Tab like any other. Left to itself the package sends the focus back to where it came from whenever a note
 * loses it, so that nobody gets past one; it sees neither here. The focus goes back only when the note it was on goes away.
 */
export const Notes = () => {
  const region = useRef<HTMLDivElement>(null);
  const cameFrom = useRef<Element | null>(null);

  useEffect(() => {
    const gone = new MutationObserver(() => {
      if (cameFrom.current === null || document.activeElement !== document.body) return;
      if (cameFrom.current instanceof HTMLElement && cameFrom.current.isConnected) cameFrom.current.focus({ preventScroll: true });
      cameFrom.current = null;
    });
    gone.observe(region.current!, { childList: true, subtree: true });
    return () => gone.disconnect();
  }, []);

  return (
    <div
      role="presentation"
      ref={region}
      onFocusCapture={(e) => {
        e.stopPropagation();
        if (!e.currentTarget.contains(e.relatedTarget)) cameFrom.current = e.relatedTarget;
      }}
      onBlurCapture={(e) => {
        e.stopPropagation();
        if (e.relatedTarget !== null && !e.currentTarget.contains(e.relatedTarget)) cameFrom.current = null;
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') toast.dismiss();
      }}
    >
      <Toaster
        position="bottom-left"
        toastOptions={{ style: { borderRadius: 0, background: 'var(--ink)', color: 'var(--paper)', border: 'none' } }}
      />
    </div>
  );
};
