/** Server and PostgreSQL are ended at random under load, again and again (tests/server/faults.ts; a short form is faults.test.ts).
 *  Asserted: every message that was acknowledged is there, once; every edit that was acknowledged is in the plan. Goals: after PostgreSQL comes back,
 *  the server is ready within 5 s, and never has to be started again for it.
 */
import { endAtRandom } from '../tests/server/faults';
import { size } from './measure';

const KILLS = size(Number(process.env['FAULTS'] ?? 100), 1);
const RESTARTS = Math.ceil(KILLS / 2);
const READY_MS = 5000;

export const benchFaults = async (): Promise<boolean> => {
  const { lost, twice, editsLost, messages, edits, slowestMs, died } = await endAtRandom({
    kills: KILLS,
    restarts: RESTARTS,
    seed: Number(process.env['FAULTS_SEED'] ?? 3),
    onProgress: (text) => console.log(`  ${text}`),
  });
  const safe = lost === 0 && twice === 0 && editsLost === 0;
  const quick = slowestMs <= READY_MS && died === 0;
  console.log(
    `${safe ? 'met   ' : 'MISSED'}  after ${KILLS} kills of the server and ${RESTARTS} of PostgreSQL: ${lost} of ${messages} acknowledged messages lost, ${twice} twice; ${editsLost} of ${edits} edits lost`,
  );
  console.log(
    `${quick ? 'met   ' : 'MISSED'}  ready at most ${slowestMs} ms after PostgreSQL was back (goal ${READY_MS}); the server ended ${died} times for it`,
  );
  return safe && quick;
};
