/** A value in a sentence that can be chosen or written: a button that opens a searchable list. The list's script comes right after the first view. */
import { useEffect, useState } from 'react';
import type { ChoiceList } from './ChoiceList';
import { CHOICE_BUTTON, type ChoiceProps } from './choice-props';

export type { Option } from './choice-props';

const AFTER_MS = 300;
let List: typeof ChoiceList | undefined;
const load = (): Promise<void> => import('./ChoiceList').then((m) => void (List = m.ChoiceList));

export const Choice = (props: ChoiceProps) => {
  const { label, value, placeholder = 'choose', wire = false } = props;
  // The list takes the button's place at the first opening, and keeps it. Until it is loaded the button keeps the focus.
  const [used, setUsed] = useState(false);
  useEffect(() => {
    if (List) return;
    const timer = setTimeout(() => void load().catch(() => undefined), AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  if (used && List) return <List {...props} />;
  return (
    <button
      type="button"
      aria-haspopup="dialog"
      aria-expanded={false}
      aria-label={`${label}: ${value || 'not chosen'}`}
      onClick={() => (List ? setUsed(true) : void load().then(() => setUsed(true)))}
      className={CHOICE_BUTTON(value, wire)}
    >
      {value || placeholder}
    </button>
  );
};
