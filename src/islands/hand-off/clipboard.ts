/** Copying, and saying how it went. */
import { toast } from '../../ui/toast';

export const copy = async (text: string, what: string): Promise<void> => {
  try {
    await navigator.clipboard.writeText(text);
    toast(`${what} copied.`);
  } catch {
    toast.error('The browser did not allow copying; select the text and copy it by hand.');
  }
};
