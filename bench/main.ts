/** Runs the benchmarks, or those named; exits 1 where a goal is missed. */
import { benchAbsurd } from './absurd';
import { benchBackfill } from './backfill';
import { benchBridges } from './bridges';
import { benchBuildCheck } from './build-check';
import { benchCheck } from './check';
import { benchCrowd } from './crowd';
import { benchDefinitions } from './definitions';
import { benchDryRun } from './dry-run';
import { benchFaults } from './faults';
import { benchFigures } from './figures';
import { benchFuzz } from './fuzz';
import { benchGates } from './gates';
import { benchIntake } from './intake';
import { benchLarge } from './large';
import { benchLedger } from './ledger';
import { benchLint } from './lint';
import { benchLive } from './live';
import { benchLoad } from './load';
import { benchMemory } from './memory';
import { benchPersons } from './persons';
import { benchPower } from './power';
import { benchSignals } from './signals';
import { benchStreams } from './streams';
import { benchViewed } from './viewed';
import { benchViews } from './views';
import { benchWorkers } from './workers';
import { isShort } from './measure';

const all: Record<string, () => Promise<boolean>> = {
  check: benchCheck,
  'build-check': benchBuildCheck,
  lint: benchLint,
  figures: benchFigures,
  definitions: benchDefinitions,
  'dry-run': benchDryRun,
  absurd: benchAbsurd,
  load: benchLoad,
  persons: benchPersons,
  large: benchLarge,
  gates: benchGates,
  bridges: benchBridges,
  ledger: benchLedger,
  intake: benchIntake,
  live: benchLive,
  streams: benchStreams,
  crowd: benchCrowd,
  viewed: benchViewed,
  workers: benchWorkers,
};
/** Only when named: each takes ten minutes and more. */
const long: Record<string, () => Promise<boolean>> = {
  signals: benchSignals,
  memory: benchMemory,
  power: benchPower,
  faults: benchFaults,
  fuzz: benchFuzz,
  views: benchViews,
  backfill: benchBackfill,
};
const asked = process.argv.slice(2);
const every = { ...all, ...long };
for (const name of asked)
  if (!(name in every)) {
    console.error(`There is no benchmark “${name}”; there are ${Object.keys(every).join(', ')}.`);
    process.exit(2);
  }
let met = true;
let run = 0;
const broken: string[] = [];
const why = (e: unknown): string => (e instanceof Error ? (e.stack ?? e.message) : String(e));
// The short form is of all of them, the long ones too.
for (const [name, bench] of Object.entries(every)) {
  if (asked.length === 0 ? !(name in all) && !isShort : !asked.includes(name)) continue;
  const began = performance.now();
  // What a benchmark asserts it throws; whether a goal is met is for the whole form to say.
  try {
    met = (await bench()) || isShort ? met : false;
  } catch (e) {
    // The others are run all the same: each that cannot run is named.
    broken.push(`${name}: ${why(e)}`);
    console.error(`The benchmark cannot run: ${broken.at(-1)!}`);
  }
  run++;
  if (isShort) console.log(`short form of ${name}: ${((performance.now() - began) / 1000).toFixed(1)} s`);
}
if (isShort) console.log(`${run} benchmarks ran`);
// Once more at the end, where whoever reads a long log looks.
if (broken.length > 0) console.error(`Cannot run: ${broken.join('\nCannot run: ')}`);
process.exit(met && broken.length === 0 ? 0 : 1);
