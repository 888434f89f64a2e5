/** A message as the live view shows it: the raw body, and its findings in words. */
import type { Severity } from '../findings/severity';
import type { Verdict } from '../table/row-verdicts';
import type { MessageKind } from '../table/message-kinds';
import { saidBy } from './message-finding';
import { findingSentence, wordsFor } from './words';

export interface RecordedMessage {
  readonly seq: number;
  readonly messageId: string;
  readonly sourceId: string;
  readonly kind: MessageKind;
  readonly name: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly receivedAt: number;
  readonly body: Record<string, unknown>;
}

export interface LiveFinding {
  readonly code: string;
  readonly severity: Severity;
  readonly sentence: string;
  readonly cause: string;
  readonly fix: string;
}

export interface LiveMessage extends RecordedMessage {
  readonly findings: readonly LiveFinding[];
}

/** Puts the findings of a recorded message into words. */
export const toLiveMessage = (m: RecordedMessage & { readonly findings: readonly Verdict[] }): LiveMessage => ({
  ...m,
  findings: m.findings.map((f) => {
    const words = wordsFor(saidBy(f));
    return {
      code: f.code,
      severity: f.severity,
      sentence: findingSentence(saidBy(f), m.name),
      cause: words?.cause ?? '',
      fix: words?.fix ?? '',
    };
  }),
});
