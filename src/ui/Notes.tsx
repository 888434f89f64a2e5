/** Where short notes are drawn. */
import { Toaster } from 'sonner';

export const Notes = () => (
  <Toaster
    position="bottom-left"
    toastOptions={{ style: { borderRadius: 0, background: 'var(--ink)', color: 'var(--paper)', border: 'none' } }}
  />
);
