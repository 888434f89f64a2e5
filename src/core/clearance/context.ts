/** What gates are judged on, out of a plan and the persons in the messages: the views, a dry run and whoever judges a history all come here. */
import type { FindingGroup } from '../arrival/finding-group';
import { reconcile } from '../arrival/many/premature-trigger';
import { reconciliation } from '../arrival/reconciliation';
import type { CountingBasis } from '../identity/counting-basis';
import type { Persons } from '../identity/persons';
import type { FigureContext } from '../questions/figure';
import { figureContext } from '../scenario/figure-context';
import type { MessageTable } from '../table/message-table';
import type { ClearanceContext } from './gate';

type Published = NonNullable<ClearanceContext['published']>;

interface Judged {
  readonly published: Published;
  readonly persons: Persons;
  /** The table of the persons, as it is judged where that is otherwise. */
  readonly table?: MessageTable;
  /** `undefined` while the checks over many have not looked. */
  readonly groups: readonly FindingGroup[] | undefined;
  readonly now: number;
}

/** Shape: its figures are worked out once for each counting basis that is asked for. */
export const clearanceContext = ({
  published,
  persons,
  table = persons.table,
  groups,
  now,
}: Judged): ClearanceContext & Required<Pick<ClearanceContext, 'figures'>> => {
  const { plan } = published;
  const known = new Map<CountingBasis, FigureContext>();
  const figures = (basis: CountingBasis): FigureContext => {
    let own = known.get(basis);
    if (!own) known.set(basis, (own = figureContext(plan, persons, now, { basis, table })));
    return own;
  };
  return {
    published,
    table: figures('fully linked').people.table,
    reconciled: reconcile(plan, persons.table, now),
    confirmed: reconciliation(plan, persons.table, now),
    groups,
    figures,
    now,
  };
};
