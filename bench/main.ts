/** Runs the benchmarks, or those named; exits 1 where a goal is missed. */
import { benchAbsurd } from './absurd';
import { benchBackfill } from './backfill';
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
const wanted = process.argv.slice(2);
let met = true;
for (const [name, run] of Object.entries({ ...all, ...long }))
  if (wanted.length === 0 ? name in all : wanted.includes(name)) met = (await run()) && met;
process.exit(met ? 0 : 1);
