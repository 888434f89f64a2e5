/** Where somebody is, as it is in the address: the station, what is selected there, and what is looked through. One codec for all stations. */
import type { Id } from '../../core/plan/plan';
import { lensOf, withLens, type Lens } from '../../core/table/lens';
import { itemOf, partsOf, pathOf } from '../../core/place-item';
import type { IdentifierNode } from '../../core/table/nodes';

export const STATIONS = [
  { id: 'questions', title: 'Questions' },
  { id: 'plan', title: 'Plan' },
  { id: 'identity', title: 'Identity' },
  { id: 'hand-off', title: 'Hand-off' },
  { id: 'arrivals', title: 'Arrivals' },
  { id: 'clearance', title: 'Clearance' },
] as const;
export type StationId = (typeof STATIONS)[number]['id'];

export interface Place {
  readonly station: StationId;
  /** What is selected there. */
  readonly item: string | undefined;
  /** What is looked through. */
  readonly lens: Lens;
}

/** A station and what is selected there: what `go` takes. */
export type To = readonly [station: StationId, item?: string];

export { itemOf, partsOf };

/** The address of a place, without its origin. */
export const addressOf = ({ station, item, lens }: Place): string => withLens(pathOf(station, item), lens);

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};

/** The place of an address; what is not understood is the first station. */
export const placeOf = ({ pathname, search }: { readonly pathname: string; readonly search: string }): Place => {
  const [, station, inPath] = pathname.split('/');
  const item = inPath ? decoded(inPath) : (new URLSearchParams(search).get('item') ?? undefined);
  return { station: STATIONS.find((s) => s.id === station)?.id ?? 'questions', item, lens: lensOf(search) };
};

/** Every place that can be gone to. */
export const places = {
  question: (id: Id): To => ['questions', id],
  coverage: (): To => ['questions', 'coverage'],
  /** A sheet or a view of the plan. */
  plan: (view: string): To => ['plan', view],
  /** A row of a sheet. */
  row: (sheet: string, id: string): To => ['plan', itemOf(sheet, id)],
  /** An entity, opened on the bench. */
  opened: (sheet: string, id: string): To => ['plan', itemOf('open', sheet, id)],
  proposal: (id: string): To => ['plan', itemOf('proposal', id)],
  identity: (view: string): To => ['identity', view],
  benchCase: (id: string): To => ['identity', itemOf('bench', id)],
  person: ({ kind, value }: IdentifierNode): To => ['identity', itemOf('person', kind, value)],
  handOff: (eventId: Id, sourceId?: Id): To => ['hand-off', sourceId === undefined ? eventId : itemOf(eventId, sourceId)],
  handOffView: (view: string): To => ['hand-off', itemOf('view', view)],
  handOffSource: (sourceId: Id): To => ['hand-off', itemOf('source', sourceId)],
  findings: (): To => ['arrivals'],
  finding: (key: string): To => ['arrivals', itemOf('finding', key)],
  arrivals: (view: string): To => ['arrivals', view],
  profile: (eventName: string): To => ['arrivals', itemOf('profile', eventName)],
  userProperty: (name: string): To => ['arrivals', itemOf('user', name)],
  pair: (clientName: string): To => ['arrivals', itemOf('pairs', clientName)],
  volume: (eventName: string, sourceId: string): To => ['arrivals', itemOf('volume', eventName, sourceId)],
  trial: (trialId: Id): To => ['arrivals', itemOf('trials', trialId)],
  trialRun: (trialId: Id, runId: string): To => ['arrivals', itemOf('trials', trialId, runId)],
  logbook: ({ kind, value }: IdentifierNode): To => ['arrivals', itemOf('logbook', kind, value)],
  clearance: (questionId: Id): To => ['clearance', questionId],
  alerts: (): To => ['clearance', 'alerts'],
} as const;

/** The identifier that two parts of an item name; `undefined` where they name none. */
export const identifierIn = ([kind, value]: readonly string[]): IdentifierNode | undefined =>
  kind === undefined || value === undefined ? undefined : { kind, value };

/** Where Escape leads: from what is opened to the list that it is in; `undefined` where nothing is opened. */
export const upFrom = ({ station, item }: Place): To | undefined => {
  const parts = partsOf(item);
  if (station === 'plan' && parts[0] === 'open') return places.row(parts[1] ?? 'event', parts[2] ?? '');
  if (station === 'plan' && parts[0] === 'proposal') return places.plan('proposals');
  if (station === 'arrivals' && parts[0] === 'finding') return places.findings();
  if ((station === 'arrivals' || station === 'identity') && parts.length > 1) return [station, parts[0] ?? ''];
  return undefined;
};
