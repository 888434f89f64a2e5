/** A run of a trial: who did it, when each step began, and what arrived meanwhile. */
import type { Severity } from '../findings/severity';
import type { MessageKind } from '../table/message-kinds';
import type { TrialScript } from './script';

/** How a tester is told from everybody else. */
export type Tester =
  | { readonly by: 'identifier'; readonly value: string }
  /** A property whose value nobody else sends. */
  | { readonly by: 'property'; readonly name: string; readonly value: string }
  /** The address that the messages are sent from. */
  | { readonly by: 'address'; readonly value: string };

/** What the tester did at a moment of the server's clock (UTC epoch ms). A step that is done again has several marks; the last one counts.
 *  `step` is its ID; `baseline`: the action, done before it was built or changed; `end`: nothing more is done. */
export interface Mark {
  readonly step: string;
  readonly at: number;
  /** Why a step was not done. */
  readonly skipped?: string | undefined;
}

/** A message of the tester, in the order of arrival. */
export interface TrialMessage {
  readonly seq: number;
  readonly messageId: string;
  readonly kind: MessageKind;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  /** UTC epoch ms; `receivedAt` by the server's clock. */
  readonly occurredAt: number;
  readonly receivedAt: number;
  readonly ids: { readonly [kind: string]: string };
  readonly properties: { readonly [name: string]: unknown };
  readonly page?: string | undefined;
  readonly findings: readonly { readonly code: string; readonly severity: Severity; readonly sentence: string }[];
}

export interface TrialRun {
  readonly script: TrialScript;
  readonly marks: readonly Mark[];
  /** Whether the marks were taken from the messages themselves: what came of a step without messages is unknown then. */
  readonly guessed?: boolean | undefined;
}
