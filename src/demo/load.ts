/** Loads the demo: plan, version 1, and the history through the intake's own code. */
import { takeIn } from '../server/intake';
import { database } from '../server/context';
import { applyChange, publish } from '../db/plan-store';
import { clearWorkspace, ensureWorkspace, renameWorkspace, workspaceName } from '../db/workspace-store';
import { DAY_MS } from '../core/time';
import { FAULT_IDS, type FaultId } from './faults';
import type { GeneratedMessage } from './generated';
import { generate } from './generator';
import { draftEdits, publishedEdits } from './plan';

export interface DemoOptions {
  readonly now: number;
  readonly visitors?: number;
  readonly seed?: number;
  readonly faults?: ReadonlySet<FaultId>;
  readonly progress?: (done: number, of: number) => void;
}

export const DEMO_VISITORS = 8600;
const GROUP = 4000;
/** How long ago the first version was published. */
const FIRST_MS = 57 * DAY_MS;
/** The workspace's name until all is loaded, so that a loading that was broken off is known as such. */
const LOADING = 'Oddment (loading)';

/** So many of the newest are written in their own order, a run of one source at a time, since those are what the live view shows. */
const NEWEST = 200;

/** Messages as runs of one source each, in order. */
const inRuns = function* (messages: readonly GeneratedMessage[]): Iterable<readonly GeneratedMessage[]> {
  for (let i = 0; i < messages.length;) {
    let j = i + 1;
    while (messages[j]?.sourceId === messages[i]!.sourceId) j++;
    yield messages.slice(i, j);
    i = j;
  }
};

const inGroups = function* (messages: readonly GeneratedMessage[]): Iterable<readonly GeneratedMessage[]> {
  for (let i = 0; i < messages.length; i += GROUP) yield messages.slice(i, i + GROUP);
};

/** Fills an empty workspace with the demo; false when there is a workspace already. */
export const loadDemo = async ({
  now,
  visitors = DEMO_VISITORS,
  seed = 20261123,
  faults = new Set(FAULT_IDS),
  progress,
}: DemoOptions): Promise<boolean> => {
  if ((await workspaceName(database())) === LOADING) await clearWorkspace(database());
  if (!(await ensureWorkspace(database(), LOADING))) return false;
  const write = async (edits: Parameters<typeof applyChange>[1], label: string, at: Date): Promise<void> => {
    const outcome = await applyChange(database(), edits, {}, label, 'Maren (insight)', at);
    if (!outcome.ok) throw new Error(`the demo plan does not apply: ${JSON.stringify(outcome)}`);
  };
  // Written the day before it was published, as a history is.
  await write(publishedEdits, 'First plan', new Date(now - FIRST_MS - DAY_MS));
  await publish(database(), 'Discover, join and borrow', 'Maren (insight)', new Date(now - FIRST_MS));
  const messages = generate({ seed, now, visitors, faults });
  let done = 0;
  for (const group of [...inGroups(messages.slice(0, -NEWEST)), ...inRuns(messages.slice(-NEWEST))]) {
    const bySource = new Map<string, GeneratedMessage[]>();
    for (const m of group) bySource.set(m.sourceId, [...(bySource.get(m.sourceId) ?? []), m]);
    await Promise.all(
      [...bySource].map(([sourceId, list]) =>
        takeIn(
          list.map((m) => ({ bytes: Buffer.from(JSON.stringify(m.message)), value: m.message, receivedAt: m.receivedAt })),
          sourceId,
          now,
        ),
      ),
    );
    done += group.length;
    progress?.(done, messages.length);
  }
  await write(draftEdits, 'Workshops, a first try', new Date(now - DAY_MS));
  await renameWorkspace(database(), 'Oddment');
  return true;
};
