/** One worker of the power benchmark: judges its share of the workspaces and says, for each, what was found. */
import { MANY_FAULTS } from '../tests/foreign/faults';
import { verdictsOn } from '../tests/foreign/judge';
import { foreignWorkspace, withCrowd } from '../tests/foreign/workspace';
import type { PowerAnswer, PowerTask } from './power';

process.on('message', (task: PowerTask) => {
  const drawn = foreignWorkspace(task.seed, task.size);
  const clean = task.crowd > 0 ? withCrowd(drawn, task.crowd) : drawn;
  const { w, expected } =
    task.fault === undefined
      ? { w: clean, expected: undefined }
      : MANY_FAULTS[task.fault as keyof typeof MANY_FAULTS](clean, task.strength);
  const { missed, invented } = verdictsOn(w, expected);
  process.send!({ ...task, found: missed.length === 0, invented } satisfies PowerAnswer);
});
