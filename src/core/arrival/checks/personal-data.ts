import type { Property } from '../../plan/plan';
import { defineValueCheck } from '../check';
import { mayBePersonal, personalDataIn, personalPlaceIn, type PersonalData } from '../personal-data';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface PersonalDataFound {
  /** Where it is: a property with its place inside, or the page. */
  readonly property: string;
  readonly kind: PersonalData;
  /** What it is a part of. */
  readonly of?: 'property' | 'user property' | 'page';
}

export const personalData = defineValueCheck({
  id: 'personal-data',
  on: 'value',
  title: 'Personal data where none is allowed',
  why: 'What has once arrived is copied on; it must be erased everywhere, and it was never asked for.',
  example: { wrong: '`"note": "call +44 20 7946 0958"`', right: '`"note": "asks for a call"`' },
  severity: 'stop',
  fixer: () => 'source',
  expected: () => 'text without personal data',
  received: (p: PersonalDataFound) => aOrAn(p.kind),
  // The value itself is left out of the finding: a finding is read by more people than the message.
  message: (p: PersonalDataFound) =>
    p.of === 'page'
      ? `came with ${aOrAn(p.kind)} in the address of its page`
      : `came with ${aOrAn(p.kind)} in ${p.of === 'user property' ? 'the user property ' : ''}\`${p.property}\``,
  cause: () => 'People type it into a free text, or the source sends a field that it should not.',
  fix: (p: PersonalDataFound) =>
    p.of === 'page'
      ? 'Cut the query off the address before sending; then erase what arrived.'
      : `Cut it out before sending, or stop sending \`${p.property}\`; then erase what arrived.`,
  compile(planned: Property) {
    const { type, allowed, personalData: own } = planned;
    const property = refOfProperty(planned);
    if (own === 'personal' || own === 'sensitive') return undefined;
    // What is on a list, or a number, was looked at before; any other value may hold a text somewhere.
    if (type === 'boolean' || type === 'number' || type === 'integer' || (type === 'string' && allowed.length > 0)) return undefined;
    return (v): PersonalDataFound | undefined => {
      const found = personalPlaceIn(v);
      return found && { property: placeText(refText(property), found.path), kind: found.kind };
    };
  },
});

/** The same of a value that nothing is planned of, at any depth. */
export const personalInUnplanned = (ref: PropertyRef, value: unknown, of?: PersonalDataFound['of']): PersonalDataFound | undefined => {
  if (typeof value === 'number' || typeof value === 'boolean') return undefined;
  const place = personalPlaceIn(value);
  return place && { property: placeText(refText(ref), place.path), kind: place.kind, ...(of ? { of } : {}) };
};

/** The same of the address of a page: what is typed into a form often is in its query. */
export const personalInPage = (page: string): PersonalDataFound | undefined => {
  if (!mayBePersonal(page)) return undefined;
  const kind = personalDataIn(decodedPage(page));
  return kind && { property: 'page', kind, of: 'page' };
};

const decodedPage = (page: string): string => {
  try {
    return decodeURIComponent(page);
  } catch {
    return page;
  }
};

/** A place inside a property, such as `items[2].note`; names that are no plain words are left to their place. */
export const placeText = (name: string, path: readonly (string | number)[]): string =>
  name + path.map((p) => (typeof p === 'number' ? `[${p}]` : /^\w{1,60}$/.test(p) ? `.${p}` : '.…')).join('');

export const aOrAn = (words: string): string => `${/^[aeiou]/.test(words) ? 'an' : 'a'} ${words}`;
