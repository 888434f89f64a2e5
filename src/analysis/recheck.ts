/** Judges the recorded messages by a newly published version, page by page; any process can go on where another stopped. */
import { readMessage } from '../core/arrival/message';
import { messagesAfter } from '../db/message-store';
import { openRechecks, storeRecheckPage, type Recheck } from '../db/recheck-store';
import type { JudgedMessage } from '../core/arrival/judged-message';
import { database } from '../server/context';
import { defineJob } from './jobs';
import { compiledVersion } from '../server/published';
import { signalsMayDiffer } from './signals-asked';

const PAGE = 5000;

const recheckPage = async (r: Recheck): Promise<boolean> => {
  const { checker } = await compiledVersion(r.planVersion);
  const page = (await messagesAfter(database(), r.done, PAGE)).filter((m) => m.seq <= r.upTo);
  const judged: JudgedMessage[] = [];
  for (const m of page) {
    const read = readMessage(m.body);
    const findings = read.ok ? checker.check(read.message) : [];
    if (findings.length > 0)
      judged.push({ seq: m.seq, name: m.name, sourceId: m.sourceId, release: m.release, occurredAt: m.occurredAt, findings });
  }
  const upTo = page.length < PAGE ? r.upTo : page.at(-1)!.seq;
  return storeRecheckPage(database(), r, upTo, judged);
};

/** One page a job, the newest version first, so that a process that dies in the middle loses a page at most. */
const work = async (): Promise<void> => {
  const next = (await openRechecks(database())).at(-1);
  if (!next) return;
  await recheckPage(next);
  // What was not judged while some were still to be checked can be judged now.
  if ((await openRechecks(database())).length === 0) signalsMayDiffer();
  else await job.ask();
};

const job = defineJob('recheck', work);

/** Asks for what is to be rechecked to be carried out, in whichever process. */
export const recheckWhatIsOpen = async (): Promise<void> => {
  if ((await openRechecks(database())).length > 0) await job.ask();
};
