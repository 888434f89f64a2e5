/** Which messages are counted: those of one environment, without marked ones unless asked for, with any state of consent. */
import { type MessageTable } from './message-table';
import { CONSENTS, type Consent } from './message-kinds';

export interface Traffic {
  /** Empty for every environment. */
  readonly environment: string;
  readonly marks: 'unmarked' | 'marked too' | 'marked only';
  /** Empty for any state of consent. */
  readonly consent: Consent | '';
}

export const PRODUCTION = 'production';
/** What counts unless somebody chooses otherwise. */
export const COUNTED: Traffic = { environment: PRODUCTION, marks: 'unmarked', consent: '' };
export const EVERYTHING: Traffic = { environment: '', marks: 'marked too', consent: '' };

export const MARK_CHOICES = ['unmarked', 'marked too', 'marked only'] as const satisfies readonly Traffic['marks'][];

/** A choice as it is in an address: `environment.marks.consent`, each left out where it is the default; empty for the default. */
export const trafficText = (t: Traffic): string => {
  const parts = [
    t.environment === PRODUCTION ? '' : t.environment === '' ? '*' : encodeURIComponent(t.environment).replaceAll('.', '%2E'),
    t.marks === 'unmarked' ? '' : t.marks === 'marked too' ? 'marked' : 'only-marked',
    t.consent,
  ];
  return parts.every((p) => p === '') ? '' : parts.join('.');
};

/** The choice that a text says; what is not understood is the default. */
export const readTraffic = (text: string | null | undefined): Traffic => {
  const [environment = '', marks = '', consent = ''] = (text ?? '').split('.');
  return {
    environment: environment === '' ? PRODUCTION : environment === '*' ? '' : decoded(environment),
    marks: marks === 'marked' ? 'marked too' : marks === 'only-marked' ? 'marked only' : 'unmarked',
    consent: CONSENTS.find((c) => c === consent) ?? '',
  };
};

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};

/** In words, as it is under a figure. */
export const trafficWords = (t: Traffic): string =>
  [
    t.environment === '' ? 'every environment' : t.environment,
    t.marks === 'unmarked'
      ? 'without internal, test and robot traffic'
      : t.marks === 'marked too'
        ? 'marked traffic too'
        : 'marked traffic only',
    ...(t.consent === '' ? [] : [`consent ${t.consent}`]),
  ].join(', ');

/** The same for a narrow place. */
export const trafficInShort = (t: Traffic): string =>
  [
    t.environment === '' ? 'all environments' : t.environment,
    t.marks === 'unmarked' ? 'unmarked' : t.marks === 'marked too' ? 'marked too' : 'only marked',
    ...(t.consent === '' ? [] : [`consent ${t.consent}`]),
  ].join(', ');

/** Messages of one environment, by whether they carry a mark. */
export interface TrafficSeen {
  readonly environment: string;
  unmarked: number;
  marked: number;
}

/** What came from which environment, marked and not.
 *  Shape: every environment that has a message, most messages first.
 */
export const trafficSeen = (table: MessageTable, environmentOf: (sourceId: string) => string): TrafficSeen[] => {
  const seen = new Map<string, TrafficSeen>();
  const bySource: TrafficSeen[] = [];
  const of = (environment: string): TrafficSeen => {
    let own = seen.get(environment);
    if (!own) seen.set(environment, (own = { environment, unmarked: 0, marked: 0 }));
    return own;
  };
  for (let row = 0; row < table.length; row++) {
    const said = table.environment.get(row);
    const source = table.source.get(row);
    const own = said >= 0 ? of(table.environments.values[said]!) : (bySource[source] ??= of(environmentOf(table.sources.values[source]!)));
    if (table.marks.get(row) > 0) own.marked++;
    else own.unmarked++;
  }
  return [...seen.values()].sort((a, b) => b.unmarked + b.marked - a.unmarked - a.marked);
};

/** A test of rows. `environmentOf` says which environment a source is of, for messages that do not say it themselves. */
export const trafficTest = (table: MessageTable, t: Traffic, environmentOf: (sourceId: string) => string): ((row: number) => boolean) => {
  const bySource: boolean[] = [];
  const isOf = (environment: string): boolean => t.environment === '' || environment === t.environment;
  const consent = CONSENTS.findIndex((c) => c === t.consent);
  return (row) => {
    const own = table.environment.get(row);
    if (own >= 0) {
      if (!isOf(table.environments.values[own]!)) return false;
    } else {
      const source = table.source.get(row);
      if (!(bySource[source] ??= isOf(environmentOf(table.sources.values[source]!)))) return false;
    }
    const isMarked = table.marks.get(row) > 0;
    if (t.marks === 'unmarked' ? isMarked : t.marks === 'marked only' && !isMarked) return false;
    return consent < 0 || table.consent.get(row) === consent;
  };
};
