/** Every keyboard shortcut, once: what the handlers ask for, and what the overview lists. */

/** What of a key press a shortcut is told by. */
export interface KeyPress {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}

export type ShortcutPlace = 'everywhere' | 'ledger';

interface Shortcut {
  /** As the overview writes it. */
  readonly keys: string;
  readonly what: string;
  readonly place: ShortcutPlace;
  readonly matches: (e: KeyPress) => boolean;
}

const command = (e: KeyPress): boolean => e.ctrlKey || e.metaKey;
const plain = (e: KeyPress): boolean => !command(e) && !e.altKey;
const letter = (e: KeyPress, l: string): boolean => command(e) && !e.altKey && e.key.toLowerCase() === l;
const isOne = (e: KeyPress, ...keys: readonly string[]): boolean => keys.includes(e.key);
const ARROWS = ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'] as const;

/** In the order of the overview. Of two that fit a press, the first one counts. */
export const SHORTCUTS = {
  station: { keys: '1 … 6', what: 'Go to a station', place: 'everywhere', matches: (e) => plain(e) && /^[1-6]$/.test(e.key) },
  palette: { keys: 'Ctrl K', what: 'Find or do anything', place: 'everywhere', matches: (e) => letter(e, 'k') },
  redo: {
    keys: 'Ctrl Shift Z · Ctrl Y',
    what: 'Redo, across the whole plan',
    place: 'everywhere',
    matches: (e) => letter(e, 'y') || (letter(e, 'z') && e.shiftKey),
  },
  undo: { keys: 'Ctrl Z', what: 'Undo, across the whole plan', place: 'everywhere', matches: (e) => letter(e, 'z') },
  copyName: {
    keys: 'C',
    what: 'Copy the wire name that has the focus. With the mouse: press any such name twice',
    place: 'everywhere',
    matches: (e) => plain(e) && !e.shiftKey && e.key === 'c',
  },
  back: { keys: 'Escape', what: 'Close what is open; then back to the list', place: 'everywhere', matches: (e) => isOne(e, 'Escape') },
  help: { keys: '?', what: 'This overview', place: 'everywhere', matches: (e) => plain(e) && e.key === '?' },
  moveRow: {
    keys: 'Alt ↑ · Alt ↓',
    what: 'Move an event; grouped by flow, also into the next flow. With the mouse: drag its number',
    place: 'ledger',
    matches: (e) => e.altKey && isOne(e, 'ArrowUp', 'ArrowDown'),
  },
  move: {
    keys: 'Arrows · Page up, down · Home · End',
    what: 'Go to another cell; with Shift, select a range',
    place: 'ledger',
    matches: (e) => !e.altKey && isOne(e, ...ARROWS, 'PageUp', 'PageDown', 'Home', 'End'),
  },
  nextCell: {
    keys: 'Tab · Shift Tab',
    what: 'Go to the next or previous cell',
    place: 'ledger',
    matches: (e) => plain(e) && isOne(e, 'Tab'),
  },
  openRow: { keys: 'Ctrl Enter', what: 'Open the row', place: 'ledger', matches: (e) => command(e) && isOne(e, 'Enter') },
  edit: { keys: 'Enter · F2', what: 'Edit the cell', place: 'ledger', matches: (e) => plain(e) && isOne(e, 'Enter', 'F2') },
  fillDown: { keys: 'Ctrl D', what: 'Fill down', place: 'ledger', matches: (e) => letter(e, 'd') },
  selectAll: { keys: 'Ctrl A', what: 'Select all cells', place: 'ledger', matches: (e) => letter(e, 'a') },
  clear: { keys: 'Delete', what: 'Clear the selected cells', place: 'ledger', matches: (e) => plain(e) && isOne(e, 'Delete', 'Backspace') },
  deselect: { keys: 'Escape', what: 'Select one cell only', place: 'ledger', matches: (e) => isOne(e, 'Escape') },
  type: {
    keys: 'Any letter',
    what: 'Replace what is in the cell; Space switches yes and no',
    place: 'ledger',
    matches: (e) => plain(e) && e.key.length === 1 && e.key !== '?',
  },
} as const satisfies Readonly<Record<string, Shortcut>>;

export type ShortcutId = keyof typeof SHORTCUTS;

const all = Object.entries(SHORTCUTS) as readonly (readonly [ShortcutId, Shortcut])[];

/** What a key press means at a place; `undefined` for nothing. */
export const shortcutOf = (place: ShortcutPlace, e: KeyPress): ShortcutId | undefined =>
  all.find(([, s]) => s.place === place && s.matches(e))?.[0];

/** Keys that belong to the browser, or to the cell that is being edited: listed, and handled there. */
const OTHERS: readonly Pick<Shortcut, 'keys' | 'what' | 'place'>[] = [
  { keys: 'Ctrl C · Ctrl V', what: 'Copy a range · paste from a spreadsheet', place: 'ledger' },
  { keys: 'Enter · Tab · Escape', what: 'While editing: save and go down · save and go right · cancel', place: 'ledger' },
  { keys: 'Ctrl Enter', what: 'While editing: save to all selected cells', place: 'ledger' },
];

/** The overview, by place. */
export const SHORTCUT_LIST: readonly { readonly title: string; readonly shortcuts: readonly Pick<Shortcut, 'keys' | 'what'>[] }[] = (
  [
    ['Everywhere', 'everywhere'],
    ['In a ledger', 'ledger'],
  ] as const
).map(([title, place]) => ({ title, shortcuts: [...all.map(([, s]) => s), ...OTHERS].filter((s) => s.place === place) }));
