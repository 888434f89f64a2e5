/** The views of the station, grouped by what somebody wants to know. */
import { partsOf } from '../workplace/place';

export const VIEW_GROUPS = [
  {
    title: 'What arrives now',
    entries: [
      { id: 'live', title: 'Live view' },
      { id: 'matrix', title: 'Coverage by day' },
      { id: 'volume', title: 'Volume' },
      { id: 'counts', title: 'Counts and delays' },
    ],
  },
  {
    title: 'Before a release',
    entries: [{ id: 'trials', title: 'Trials' }],
  },
  {
    title: 'What is wrong',
    entries: [
      { id: 'findings', title: 'Findings' },
      { id: 'follow-ups', title: 'Follow-ups' },
      { id: 'pairs', title: 'Client vs. server' },
      { id: 'rejected', title: 'Rejected messages' },
    ],
  },
  {
    title: 'What it looks like',
    entries: [
      { id: 'profile', title: 'Profiles' },
      { id: 'user', title: 'User properties' },
      { id: 'logbook', title: 'Logbook of a person' },
    ],
  },
  {
    title: 'History and upkeep',
    entries: [
      { id: 'drift', title: 'Drift' },
      { id: 'file', title: 'Import messages' },
    ],
  },
] as const;

export const VIEWS = VIEW_GROUPS.flatMap((g): readonly { readonly id: ViewId; readonly title: string }[] => g.entries);
export type ViewId = (typeof VIEW_GROUPS)[number]['entries'][number]['id'];

/** Where somebody is in the station: a view, the finding that is open, and the parts of the address behind the view. */
export interface ArrivalsPlace {
  readonly view: ViewId;
  /** Key of the finding that is open. */
  readonly finding: string | undefined;
  readonly rest: readonly string[];
}

/** The place that an item names; what is not understood is the findings. */
export const arrivalsPlace = (item: string | undefined): ArrivalsPlace => {
  const [name = '', ...rest] = partsOf(item);
  if (name === 'finding') return { view: 'findings', finding: rest[0], rest: [] };
  return { view: VIEWS.find((v) => v.id === name)?.id ?? 'findings', finding: undefined, rest };
};
