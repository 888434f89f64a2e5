/** The pictures in docs/screenshots. */
import { join } from 'node:path';
import { ensureBuild } from './build';
import { ensurePackages } from './packages';
import { freshDatabase, startCluster } from './postgres';
import { prepareDemo } from './prepare';
import { addressOf, startServer, stopServer } from './serve';
import { freePort, RUN_DIR, say, show } from './shell';

export const screenshots = async (): Promise<boolean> => {
  ensurePackages('chromium-headless-shell');
  ensureBuild();
  const url = await freshDatabase(await startCluster('postgres-test', ['fsync=off']), 'signal_post_pictures');
  say('Loading the demo ...');
  await prepareDemo(url);
  const port = await freePort(4700);
  const server = await startServer(url, port, { quiet: true });
  try {
    return await show(process.execPath, ['node_modules/@playwright/test/cli.js', 'test', '--config', 'tests/screenshots.config.ts'], {
      ...process.env,
      BASE_URL: addressOf(port),
      PLAYWRIGHT_JSON_OUTPUT_NAME: join(RUN_DIR, 'report-screenshots.json'),
    });
  } finally {
    await stopServer(server);
  }
};
