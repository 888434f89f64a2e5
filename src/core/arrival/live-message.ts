/** A message as the live view shows it: the raw body, and its findings in words. */
import type { Severity } from '../findings/severity';
import type { MessageKind } from '../table/message-table';
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
  readonly mend: string;
}

export interface LiveMessage extends RecordedMessage {
  readonly findings: readonly LiveFinding[];
}

/** Puts the findings of a recorded message into words. */
export const toLiveMessage = (
  m: RecordedMessage & { readonly findings: readonly { readonly code: string; readonly severity: string; readonly params: unknown }[] },
): LiveMessage => ({
  ...m,
  findings: m.findings.map((f) => {
    const words = wordsFor(f.code, f.params);
    return {
      code: f.code,
      severity: f.severity as Severity,
      sentence: findingSentence(f.code, m.name, f.params),
      cause: words?.cause ?? '',
      mend: words?.mend ?? '',
    };
  }),
});
