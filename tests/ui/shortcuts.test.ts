/** The keys: each press means one thing, and every shortcut can be reached. */
import { describe, expect, it, test } from 'vitest';
import { SHORTCUT_LIST, SHORTCUTS, shortcutOf, type KeyPress, type ShortcutId, type ShortcutPlace } from '../../src/ui/shortcuts';

const press = (text: string): KeyPress => {
  const parts = text.split(' ');
  return {
    key: parts.at(-1)!,
    ctrlKey: parts.includes('Ctrl'),
    metaKey: parts.includes('Meta'),
    altKey: parts.includes('Alt'),
    shiftKey: parts.includes('Shift'),
  };
};

const CASES: readonly (readonly [ShortcutPlace, string, ShortcutId | undefined])[] = [
  ['everywhere', '1', 'station'],
  ['everywhere', '6', 'station'],
  ['everywhere', '7', undefined],
  ['everywhere', 'Ctrl 1', undefined],
  ['everywhere', 'Ctrl k', 'palette'],
  ['everywhere', 'Meta K', 'palette'],
  ['everywhere', 'Ctrl z', 'undo'],
  ['everywhere', 'Ctrl Shift Z', 'redo'],
  ['everywhere', 'Ctrl y', 'redo'],
  ['everywhere', 'Escape', 'back'],
  ['everywhere', 'c', 'copyName'],
  ['everywhere', 'Ctrl c', undefined],
  ['everywhere', 'Shift ?', 'help'],
  ['everywhere', 'z', undefined],
  ['ledger', 'ArrowUp', 'move'],
  ['ledger', 'Shift ArrowDown', 'move'],
  ['ledger', 'Ctrl End', 'move'],
  ['ledger', 'Alt ArrowUp', 'moveRow'],
  ['ledger', 'Alt ArrowLeft', undefined],
  ['ledger', 'Tab', 'nextCell'],
  ['ledger', 'Shift Tab', 'nextCell'],
  ['ledger', 'Enter', 'edit'],
  ['ledger', 'F2', 'edit'],
  ['ledger', 'Ctrl Enter', 'openRow'],
  ['ledger', 'Ctrl D', 'fillDown'],
  ['ledger', 'Ctrl a', 'selectAll'],
  ['ledger', 'Delete', 'clear'],
  ['ledger', 'Backspace', 'clear'],
  ['ledger', 'Escape', 'deselect'],
  ['ledger', 'x', 'type'],
  ['ledger', ' ', 'type'],
  ['ledger', '1', 'type'],
  ['ledger', 'Shift ?', undefined],
  ['ledger', 'Ctrl c', undefined],
];

test.each(CASES)('at %s, %s means %s', (place, text, id) => {
  // A blank is the last of what was split.
  expect(shortcutOf(place, text === ' ' ? { ...press('x'), key: ' ' } : press(text))).toBe(id);
});

describe('the overview', () => {
  it('lists every shortcut of the handlers once', () => {
    const listed = SHORTCUT_LIST.flatMap((g) => g.shortcuts);
    for (const s of Object.values(SHORTCUTS)) expect(listed.filter((l) => l.what === s.what)).toEqual([s]);
  });
  it('has a case above for each of them', () => {
    expect(Object.keys(SHORTCUTS).filter((id) => !CASES.some(([, , meant]) => meant === id))).toEqual([]);
  });
});
