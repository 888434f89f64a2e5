/** One way to edit a value where it is read: kept on Enter or on leaving, put back by Escape, with what is wrong below it. */
import { useState, type ChangeEvent, type KeyboardEvent } from 'react';
import { isTyped, kept, NOTHING_TYPED, shownOf, typing } from './commit-model';

type Field = HTMLInputElement | HTMLTextAreaElement;

export const useCommit = (value: string, save: (text: string) => string | void) => {
  const [typed, setTyped] = useState(NOTHING_TYPED);
  const { text, problem } = shownOf(typed, value);
  const putBack = (): void => setTyped(NOTHING_TYPED);
  return {
    text,
    problem,
    putBack,
    /** For an input; in a text of several lines Shift+Enter makes a new one. */
    field: {
      value: text,
      // What the keys of the whole page ask: is undoing the field's, or the plan's?
      'data-undo': isTyped(typed, value) ? 'field' : 'plan',
      'aria-invalid': problem !== undefined,
      onChange: (e: ChangeEvent<Field>) => setTyped(typing(typed, value, e.target.value)),
      onBlur: () => setTyped(kept(typed, value, 'leaving', save)),
      onKeyDown: (e: KeyboardEvent<Field>) => {
        if (e.key === 'Enter' && !e.shiftKey) {
          e.preventDefault();
          setTyped(kept(typed, value, 'enter', save));
        }
        if (e.key === 'Escape' && typed.text !== undefined) {
          // The first Escape puts back, the next one leads out.
          e.stopPropagation();
          putBack();
        }
      },
    },
  };
};
