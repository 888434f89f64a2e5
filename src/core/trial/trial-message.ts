/** A message as a trial judges it: read, and checked by the plan that is tried. */
import type { Checker } from '../arrival/compile';
import type { Message } from '../arrival/message';
import { saidBy } from '../arrival/message-finding';
import { findingSentence } from '../arrival/words';
import type { TrialMessage } from './run';

export const trialMessage = (checker: Checker, m: Message, where: Pick<TrialMessage, 'seq' | 'sourceId' | 'receivedAt'>): TrialMessage => ({
  seq: where.seq,
  sourceId: where.sourceId,
  receivedAt: where.receivedAt,
  messageId: m.id,
  kind: m.kind,
  name: m.name,
  release: m.release,
  occurredAt: m.occurredAt,
  ids: m.ids,
  properties: m.properties,
  page: m.page,
  findings: checker.check(m).map((f) => ({ code: f.code, severity: f.severity, sentence: findingSentence(saidBy(f), m.name) })),
});
