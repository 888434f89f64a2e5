/** The one model of findings: data first, words made on reading. */
import type { Edit } from '../plan/edit';
import type { Severity } from './severity';

export interface Finding<Code extends string = string, Params = unknown> {
  readonly code: Code;
  readonly severity: Severity;
  /** Where: kind, id and field in a plan; the key path in a message. */
  readonly path: readonly (string | number)[];
  readonly params: Params;
  /** The fix as edits, where one exists. */
  readonly fix?: readonly Edit[];
}

/** What a rule or a check finds, and what it lets pass, in a few words each; names in back quotes. */
export interface Example {
  readonly wrong: string;
  readonly right: string;
}
