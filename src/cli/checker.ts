/** The checks of a message for the sender's debug mode: `createSender({ debug: checkerOf(plan) })`. Built as a file of its own, since it is large. */
import type { Checked, WireMessage } from '../../packages/sender/src/index';
import { compileChecker } from '../core/arrival/compile';
import { readMessage } from '../core/arrival/message';
import { saidBy } from '../core/arrival/message-finding';
import { findingSentence, wordsFor } from '../core/arrival/words';
import { readPlanDocument } from '../core/formats/plan-document';

/** Checks messages by a plan document (`/api/plan.json`), as the server does on arrival.
 *  Errors: throws where the document is no plan; that is seen when the page is built.
 */
export const checkerOf = (document: unknown): ((message: WireMessage) => readonly Checked[]) => {
  const read = readPlanDocument(typeof document === 'string' ? document : JSON.stringify(document));
  if (!read.ok) throw new Error(read.detail);
  const checker = compileChecker(read.value);
  return (message) => {
    const own = readMessage(JSON.parse(JSON.stringify(message)));
    if (!own.ok) return [{ code: 'rejected', sentence: own.rejected.detail, fix: '' }];
    return checker.check(own.message).map((f) => ({
      code: f.code,
      sentence: findingSentence(saidBy(f), own.message.name),
      fix: wordsFor(saidBy(f))?.fix ?? '',
    }));
  };
};
