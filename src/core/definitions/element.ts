/** An element of a page as an interaction tells it: what it says, what it is, and where it is. */
import { ELEMENT_FORM, ELEMENT_ID, ELEMENT_LINK, ELEMENT_PLACE, ELEMENT_ROLE, ELEMENT_TEXT } from './interactions';
import type { Condition } from './definition';

/** What is read of an element, whichever page it is on. */
export interface ElementLike {
  /** In lower case. */
  readonly tag: string;
  readonly attribute: (name: string) => string | undefined;
  readonly text: string;
  readonly parent: ElementLike | undefined;
}

export interface Element {
  readonly text: string;
  readonly role: string;
  readonly place: string;
  /** By which it is found where it says nothing and is moved, as far as the page has it: its own ID, where a link leads (without parameters), its field and the form that it is in. */
  readonly id?: string;
  readonly link?: string;
  readonly form?: string;
}

/** The attribute by which a page names a part of itself, so that it is found whatever it says and wherever it is moved. */
export const PART_ATTRIBUTE = 'data-part';
const PRESSED = new Set(['a', 'button', 'select', 'summary', 'input', 'label', 'textarea']);
const MAX_TEXT = 200;
const MAX_DEPTH = 6;
/** Ways that every page has. */
const SKIPPED = new Set(['html', 'body', 'div', 'span']);

const ROLES: Readonly<Record<string, string>> = {
  a: 'link',
  button: 'button',
  select: 'list',
  summary: 'button',
  textarea: 'field',
  label: 'field',
};
const INPUT_ROLES: Readonly<Record<string, string>> = {
  button: 'button',
  submit: 'button',
  reset: 'button',
  checkbox: 'checkbox',
  radio: 'choice',
};

/** The name that the page gives a part, by our attribute or its own. */
const partOf = (e: ElementLike, attributes: readonly string[]): string | undefined =>
  [PART_ATTRIBUTE, ...attributes].map((a) => e.attribute(a)).find((v) => v !== undefined);

/** The element that is meant by one that was hit: itself, or what is pressed around it; `undefined` where nothing is pressed. */
export const pressedAt = (hit: ElementLike | undefined, attributes: readonly string[] = []): ElementLike | undefined => {
  for (let e = hit; e; e = e.parent)
    if (PRESSED.has(e.tag) || e.attribute('role') === 'button' || e.attribute('role') === 'link' || partOf(e, attributes) !== undefined)
      return e;
  return undefined;
};

const roleOf = (e: ElementLike): string =>
  e.attribute('role') ?? (e.tag === 'input' ? (INPUT_ROLES[e.attribute('type') ?? ''] ?? 'field') : (ROLES[e.tag] ?? e.tag));

/** What an element says. What somebody wrote into a field is theirs, and is not read. */
const textOf = (e: ElementLike): string => {
  const isField = e.tag === 'textarea' || e.tag === 'select' || (e.tag === 'input' && roleOf(e) !== 'button');
  const said = e.attribute('aria-label') ?? (isField ? '' : e.tag === 'input' ? (e.attribute('value') ?? '') : e.text);
  return said.replaceAll(/\s+/g, ' ').trim().slice(0, MAX_TEXT);
};

/** The tags on the way to it, from the outside in; always with a slash, which a name of its own never has. */
const wayTo = (e: ElementLike): string => {
  const way: string[] = [];
  for (let x: ElementLike | undefined = e; x && way.length < MAX_DEPTH; x = x.parent)
    if (!SKIPPED.has(x.tag) || x === e) way.unshift(x.tag);
  return way.length > 1 ? way.join('/') : `/${way[0] ?? ''}`;
};

/** IDs that a program makes anew each time, such as `:r1f:` and `field-83a1c09e`, name nothing. */
const isMade = (id: string): boolean => /[^\p{L}\p{N}_-]|\d{3,}|[0-9a-f]{8,}/u.test(id);

const idOf = (e: ElementLike): string | undefined => {
  const id = e.attribute('id')?.trim();
  return id && !isMade(id) ? id : undefined;
};

/** Where a link leads, without what may be about a person: parameters, an address of mail, a number. */
const linkOf = (e: ElementLike): string | undefined => {
  const to = e.tag === 'a' ? e.attribute('href')?.trim().split(/[?#]/)[0] : undefined;
  if (!to) return undefined;
  const scheme = /^([a-z][a-z0-9+.-]*):/i.exec(to)?.[1]?.toLowerCase();
  if (scheme === undefined) return to.slice(0, MAX_TEXT);
  return scheme === 'http' || scheme === 'https' ? to.replace(/^([a-z]+:\/\/)[^/]*@/i, '$1').slice(0, MAX_TEXT) : `${scheme}:`;
};

/** The form that it is in, and its field, by their names. */
const formOf = (e: ElementLike): string | undefined => {
  const nameOf = (x: ElementLike): string | undefined => x.attribute('name')?.trim() || idOf(x);
  let form: ElementLike | undefined = e;
  while (form && form.tag !== 'form') form = form.parent;
  const parts = [form && nameOf(form), e.attribute('name')?.trim()].filter((p) => p);
  return parts.length > 0 ? parts.join('/').slice(0, MAX_TEXT) : undefined;
};

/** An element as it is sent. Shape: the place is the name that the page gives this part, by `data-part` or one of `attributes`, without slashes; else the way to it. */
export const elementOf = (e: ElementLike, attributes: readonly string[] = []): Element => {
  const part = partOf(e, attributes)?.replaceAll('/', ' ').trim();
  const [id, link, form] = [idOf(e), linkOf(e), formOf(e)];
  return {
    text: textOf(e),
    role: roleOf(e),
    place: part ? part : wayTo(e),
    ...(id === undefined ? {} : { id }),
    ...(link === undefined ? {} : { link }),
    ...(form === undefined ? {} : { form }),
  };
};

/** The conditions that take this element, and hold longest: by the name that the page gives it, else by role and text, else by its ID, by where it leads, by its form and field; else by its place. */
export const conditionsFor = ({ text, role, place, id, link, form }: Element): Condition[] => {
  const is = (name: readonly string[], value: string): Condition => ({ subject: { of: 'property', name }, op: 'is', values: [value] });
  if (!place.includes('/')) return [is(ELEMENT_PLACE, place)];
  if (text !== '') return [is(ELEMENT_ROLE, role), is(ELEMENT_TEXT, text)];
  if (id !== undefined) return [is(ELEMENT_ID, id)];
  if (link !== undefined) return [is(ELEMENT_ROLE, role), is(ELEMENT_LINK, link)];
  if (form !== undefined) return [is(ELEMENT_ROLE, role), is(ELEMENT_FORM, form)];
  return [is(ELEMENT_PLACE, place)];
};

const MAX_WORDS = 5;

/** A name for pressing it, out of what it says; out of its place where it says nothing. */
export const nameFor = ({ text, place, id, link, form }: Element): string => {
  const words = (text || (place.includes('/') ? id || link || form : '') || place).split(/[^\p{L}\p{N}]+/u).filter((w) => w !== '');
  return [...words.slice(0, MAX_WORDS).map((w) => w[0]!.toUpperCase() + w.slice(1)), 'Pressed'].join(' ');
};
