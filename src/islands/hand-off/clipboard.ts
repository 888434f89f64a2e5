/** Copying, and saying how it went. */
import { toast } from 'sonner';

export const copy = async (text: string, what: string): Promise<void> => {
  try {
    await navigator.clipboard.writeText(text);
    toast(`${what} is on the clipboard.`);
  } catch {
    toast.error('The browser did not allow copying; select the text and copy it by hand.');
  }
};
