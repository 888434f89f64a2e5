/** The sheets and views of the station, by what somebody wants to do. */
import type { Id } from '../../core/plan/plan';
import type { NavGroup } from '../../ui/GroupedNav';
import { partsOf } from '../workplace/place';

export const PLAN_GROUPS: readonly NavGroup[] = [
  {
    title: 'What is tracked',
    entries: [
      { id: 'event', title: 'Events' },
      { id: 'property', title: 'Properties' },
      { id: 'userProperty', title: 'User properties' },
      { id: 'sharedSet', title: 'Shared sets' },
      { id: 'definition', title: 'Definitions' },
    ],
  },
  {
    title: 'Who sends it',
    entries: [
      { id: 'source', title: 'Sources' },
      { id: 'identifierKind', title: 'Identifier kinds' },
    ],
  },
  {
    title: 'Is it right',
    entries: [
      { id: 'findings', title: 'Issues in the plan' },
      { id: 'suggestions', title: 'Shared properties' },
      { id: 'limits', title: 'Limits' },
      { id: 'try', title: 'Try the draft' },
    ],
  },
  {
    title: 'Rules',
    entries: [
      { id: 'naming', title: 'Naming rules' },
      { id: 'rules', title: 'Checks of the plan' },
      { id: 'arrival-checks', title: 'Checks of arrivals' },
      { id: 'workspace', title: 'Workspace' },
    ],
  },
  {
    title: 'Review and share',
    entries: [
      { id: 'proposals', title: 'Proposals' },
      { id: 'versions', title: 'Versions' },
      { id: 'activity', title: 'Activity' },
      { id: 'read', title: 'Reading view' },
      { id: 'files', title: 'Import and export' },
    ],
  },
];

/** The sheets of settings, loaded when one is opened: they bring all checks along. */
export const SETTING_SHEET_IDS: readonly string[] = ['naming', 'rules', 'arrival-checks', 'workspace'];

export interface PlanPlace {
  readonly view: string;
  /** The row that is chosen, or the entity that is opened. */
  readonly id: Id | undefined;
  /** The entity is opened on the bench. */
  readonly opened: boolean;
}

/** The place that an item names. */
export const planPlace = (item: string | undefined): PlanPlace => {
  const parts = partsOf(item ?? 'event');
  const opened = parts[0] === 'open';
  const [view = 'event', id] = opened ? parts.slice(1) : parts;
  return { view, id: id === '' ? undefined : id, opened };
};
