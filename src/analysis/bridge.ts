/** A question's figure as it arrived, and as it would be. */
import { bridge } from '../core/api/bridge';
import type { Bridge } from '../core/clearance/bridge';
import { rememberedBridge } from '../core/clearance/remembered-bridge';
import { CORRECTIONS } from '../core/clearance/correction-names';
import { personsWith } from '../core/definitions/defined-events';
import { entityOf } from '../core/plan/plan';
import { problem } from '../server/answer';
import { currentDraft } from '../server/draft';
import { serveSteps } from '../server/serve';
import { publishedScope } from './scope';

/** One for what is looked for, and one for each correction. */
const STEPS = CORRECTIONS.length + 1;

function* told(work: Generator<void, Bridge>): Generator<{ done: number; total: number }, Bridge> {
  for (let done = 1; ; done++) {
    const next = work.next();
    if (next.done) return next.value;
    yield { done: Math.min(done, STEPS), total: STEPS };
  }
}

export const BRIDGE = [
  serveSteps(bridge, async ({ url, body }) => {
    const { version, persons } = publishedScope(url);
    if (!version)
      return problem(409, 'nothing published', 'A figure is put right by the checks of a published version. Publish the plan first.');
    const question = entityOf(version.plan, 'question', body.question);
    if (!question)
      return entityOf((await currentDraft()).plan, 'question', body.question)
        ? problem(
            409,
            'not published',
            `This question is in the draft alone, and version ${version.number} does not have it: its figure as it would be is worked out once it is published.`,
          )
        : problem(404, 'no such question', 'Neither the draft nor the version in force has a question with this ID.');
    const on = new Set(CORRECTIONS.flatMap(({ id }) => (body.off.includes(id) ? [] : [id])));
    const { table } = personsWith(persons, version.plan);
    return told(rememberedBridge(version.plan, body.question, question, persons, Date.now(), on, table));
  }),
];
