/** What is told of a press: its element, and nothing of what is private. The page is a stand-in of plain objects; the browser tests have a real one. */
import { expect, test } from 'vitest';
import { watchInteractions, type PressedElement } from '../../packages/sender/src/interactions';

/** An element as a page has it, as far as it is read. */
const element = (tagName: string, attributes: Record<string, string> = {}, text = '', parentElement?: object): EventTarget =>
  ({
    nodeType: 1,
    tagName: tagName.toUpperCase(),
    getAttribute: (name: string) => attributes[name] ?? null,
    innerText: text,
    textContent: text,
    parentElement: parentElement ?? null,
    closest(selector: string): object | null {
      const isIt = selector.startsWith('[') ? selector.slice(1, -1) in attributes : selector === tagName;
      return isIt ? this : ((parentElement as { closest?: (s: string) => object | null } | undefined)?.closest?.(selector) ?? null);
    },
  }) as unknown as EventTarget;

const page = () => {
  const listeners: [string, (e: Event) => void, unknown][] = [];
  const within = {
    addEventListener: (type: string, hear: (e: Event) => void, capture: unknown) => void listeners.push([type, hear, capture]),
    removeEventListener: (type: string, hear: (e: Event) => void, capture: unknown) => {
      const at = listeners.findIndex((l) => l[0] === type && l[1] === hear && l[2] === capture);
      if (at >= 0) listeners.splice(at, 1);
    },
  } as unknown as EventTarget;
  const press = (target: EventTarget | null): void => {
    for (const [type, hear, capture] of listeners) if (type === 'click' && capture === true) hear({ target } as Event);
  };
  return { within, press, listeners };
};

test('each press is told once, before the page has its turn, until it is ended', () => {
  const told: PressedElement[] = [];
  const { within, press, listeners } = page();
  const end = watchInteractions(within, (e) => told.push(e));
  const button = element('button', { 'data-part': 'reserve' }, 'Reserve now');
  press(element('span', {}, 'now', button));
  expect(told).toEqual([{ text: 'Reserve now', role: 'button', place: 'reserve' }]);
  // Where nothing is pressed nothing is told; what is no element is nothing.
  press(element('p', {}, 'Some words'));
  press(null);
  expect(told).toHaveLength(1);
  end();
  expect(listeners).toEqual([]);
  press(button);
  expect(told).toHaveLength(1);
});

test('what is private, itself or around it, tells its place alone; what is written into a field is never told', () => {
  const told: PressedElement[] = [];
  const { within, press } = page();
  watchInteractions(within, (e) => told.push(e));
  press(element('button', { 'data-private': '' }, 'Ada Lovelace'));
  press(element('button', {}, 'Ada Lovelace', element('section', { 'data-private': '' })));
  press(element('input', { value: 'ada@example.org' }));
  press(element('button', {}, 'Open', element('section')));
  expect(told.map((t) => t.text)).toEqual(['', '', '', 'Open']);
  expect(told.map((t) => t.role)).toEqual(['button', 'button', 'field', 'button']);
  expect(told[1]!.place).not.toBe('');
});
