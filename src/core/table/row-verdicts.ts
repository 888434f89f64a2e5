/** What was found on the rows of a table: most rows have nothing, and the same is found on thousands of others. */
import type { Severity } from '../findings/severity';
import { RowList, rowsBefore } from './column';
import { SparseColumn } from './sparse-column';

/** A finding on one message, as the table keeps it: what its params are, only the checks know (arrival/message-finding.ts). */
export interface Verdict {
  readonly code: string;
  readonly severity: Severity;
  readonly path: readonly (string | number)[];
  readonly params: object;
}

/** A verdict with its parts in one order: engines keep millions of objects of one shape smaller than of several. */
export const verdictOf = ({ code, severity, path, params }: Verdict): Verdict => ({ code, severity, path, params });

export class RowVerdicts {
  /** Rows on which something was found, in order of arrival. */
  private readonly judged = new RowList();
  /** By row, the place in `lists`. */
  private readonly places = new SparseColumn();
  private readonly lists: (readonly Verdict[])[] = [];
  private readonly placeOf = new Map<readonly Verdict[], number>();

  /** Notes what was found on a row; rows are given in their order. A list that others have, too, is kept once. */
  set(row: number, verdicts: readonly Verdict[]): void {
    let place = this.placeOf.get(verdicts);
    if (place === undefined) {
      place = this.lists.length;
      this.lists.push(verdicts);
      this.placeOf.set(verdicts, place);
    }
    this.places.set(row, place);
    this.judged.push(row);
  }

  /** What was found on a row; `undefined` for nothing. */
  get(row: number): readonly Verdict[] | undefined {
    const place = this.places.get(row);
    return place < 0 ? undefined : this.lists[place];
  }

  /** Rows with verdicts from a row on, in order of arrival; a view that later ones do not change. */
  rowsFrom(from: number): Int32Array {
    const { rows } = this.judged;
    return rows.subarray(rowsBefore(rows, from).length);
  }
}
