/** What every view looks through: which messages count, and whose rules make persons; both are in the address, so that a link shows the same. */
import { readTraffic, trafficText, type Traffic } from './traffic';

export interface Lens {
  readonly traffic: Traffic;
  /** Persons on the Identity screens: by the version in force, or by the draft. */
  readonly rules: 'version' | 'draft';
}

const NAMES = ['traffic', 'rules'] as const;

/** The lens that the query of an address says. */
export const lensOf = (search: string): Lens => {
  const query = new URLSearchParams(search);
  return { traffic: readTraffic(query.get('traffic')), rules: query.get('rules') === 'draft' ? 'draft' : 'version' };
};

/** An address with a lens in its query, in place of the one that it had; nothing is added where the lens is the default. */
export const withLens = (address: string, lens: Lens): string => {
  const [path = '', search = ''] = address.split('?');
  const query = new URLSearchParams(search);
  for (const name of NAMES) query.delete(name);
  const traffic = trafficText(lens.traffic);
  if (traffic !== '') query.set('traffic', traffic);
  if (lens.rules === 'draft') query.set('rules', 'draft');
  const text = query.toString();
  return text === '' ? path : `${path}?${text}`;
};

/** Whether two lenses show the same. */
export const isSameLens = (a: Lens, b: Lens): boolean => withLens('', a) === withLens('', b);
