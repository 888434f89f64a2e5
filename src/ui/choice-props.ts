/** What a choice is given, and how its button looks, before and after its list is loaded. */

export interface Option {
  readonly value: string;
  readonly note?: string;
}

export interface ChoiceProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly options: readonly Option[];
  readonly wire?: boolean;
  /** A text that is on no list may be taken as it is. */
  readonly free?: (text: string) => string;
  readonly onChoose: (value: string) => void;
}

export const CHOICE_BUTTON = (value: string, wire: boolean): string =>
  `mx-0.5 border-b-2 border-accent px-0.5 text-left font-semibold hover:bg-wash ${wire ? 'wire' : ''} ${value ? '' : 'border-dashed text-accent'}`;
