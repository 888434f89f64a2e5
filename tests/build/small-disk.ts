/** A disk of a few megabytes, as a tablespace: a file system in memory where this process may mount one. Needs root, as the tests' own
 *  cluster on such a machine does; elsewhere a file system image would need the same right, so there it says so and fails.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type pg from 'pg';

const SIZE = '4m';

export const smallDisk = async (admin: pg.Client): Promise<{ readonly tablespace: string; readonly remove: () => Promise<void> }> => {
  const { rows } = await admin.query<{ data: string }>(`select current_setting('data_directory') as data`);
  // Beside the cluster, where its user may go.
  const mount = mkdtempSync(join(rows[0]!.data, '..', 'small-disk-'));
  const owner = execFileSync('stat', ['-c', '%u:%g', rows[0]!.data]).toString().trim();
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${SIZE}`, 'tmpfs', mount]);
  const place = join(mount, 'space');
  mkdirSync(place);
  execFileSync('chown', ['-R', owner, mount]);
  execFileSync('chmod', ['755', mount]);
  const tablespace = `small_${process.pid}`;
  await admin.query(`create tablespace ${tablespace} location '${place}'`);
  return {
    tablespace,
    remove: async () => {
      // Whatever still lies there goes back to where there is room.
      await admin.query(`alter table all in tablespace ${tablespace} set tablespace pg_default`).catch(() => undefined);
      await admin.query(`drop tablespace ${tablespace}`);
      execFileSync('umount', [mount]);
      rmSync(mount, { recursive: true, force: true });
    },
  };
};
