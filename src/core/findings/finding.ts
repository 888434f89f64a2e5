/** The one model of findings: data first, words made on reading. */
import type { Edit } from '../plan/edit';
import type { Severity } from './severity';

export interface Finding<Code extends string = string, Params = unknown> {
  readonly code: Code;
  readonly severity: Severity;
  /** Where: kind, id and field in a plan; the key path in a message. */
  readonly path: readonly (string | number)[];
  readonly params: Params;
  /** The mend as edits, where one exists. */
  readonly fix?: readonly Edit[];
}
