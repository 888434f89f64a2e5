/** What has to stand before anything is served: schema, workspace, demo. */
import { migrate, migrationsOf, NewerSchema } from '../src/db/migrate';
import { applyChange } from '../src/db/plan-store';
import { ensureWorkspace } from '../src/db/workspace-store';
import { blank } from '../src/core/plan/defaults';
import { loadDemo, type DemoOptions } from '../src/demo/load';
import { database } from '../src/server/context';
import { runtime } from '../src/server/runtime';
import { say, Trouble } from './shell';

/** Says what is done to a database that is there already; a new one is made without a word. */
const upToDate = async (): Promise<void> => {
  const { db } = database();
  const isNew = (await migrationsOf(db)).length === 0;
  try {
    await migrate(database(), undefined, (name, before, of) => {
      if (!isNew) say(`Bringing the database up to date, ${before + 1} of ${of}: ${name.slice(5).replaceAll('-', ' ')} ...`);
    });
  } catch (e) {
    throw e instanceof NewerSchema ? new Trouble(e.message) : e;
  }
};

const withDatabase = async <T>(url: string, work: () => Promise<T>): Promise<T> => {
  process.env['DATABASE_URL'] = url;
  try {
    return await work();
  } finally {
    await runtime.stop();
  }
};

/** Migrates, and makes an empty workspace where there is none. */
export const prepareEmpty = (url: string): Promise<void> =>
  withDatabase(url, async () => {
    await upToDate();
    if (await ensureWorkspace(database(), 'New workspace'))
      await applyChange(
        database(),
        [{ op: 'create', kind: 'settings', id: 'settings', body: blank('settings') }],
        {},
        'New workspace',
        'you',
      );
  });

/** Migrates, and loads the demo where there is no workspace. */
export const prepareDemo = (url: string, options: Partial<DemoOptions> = {}): Promise<void> =>
  withDatabase(url, async () => {
    await upToDate();
    let shown = 0;
    const progress = (done: number, of: number): void => {
      const percent = Math.floor((done * 100) / of);
      if (percent < shown + 20 && done < of) return;
      shown = percent;
      say(`  ${percent} % of ${of.toLocaleString('en-GB')} messages`);
    };
    const loading = loadDemo({ now: Date.now(), progress, ...options });
    if (!(await loading)) say('The workspace is already there; ./signal-post reset makes the demo anew.');
  });
