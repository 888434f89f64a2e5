/** A question's figure as it arrived, and as it would be. */
import { bridge } from '../core/api/bridge';
import type { Bridge } from '../core/clearance/bridge';
import { rememberedBridge } from '../core/clearance/remembered-bridge';
import { CORRECTIONS } from '../core/clearance/correction-names';
import { personsWith } from '../core/definitions/defined-events';
import { entityOf } from '../core/plan/plan';
import { problem } from '../server/answer';
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
  serveSteps(bridge, ({ url, body }) => {
    const { version, persons } = publishedScope(url);
    if (!version) return Promise.resolve(problem(409, 'nothing published', 'A figure is put right by the checks of a published version. Publish the plan first.')); // prettier-ignore
    const question = entityOf(version.plan, 'question', body.question);
    if (!question) return Promise.resolve(problem(404, 'no such question', `Version ${version.number} does not have this question. Publish it first.`)); // prettier-ignore
    const on = new Set(CORRECTIONS.flatMap(({ id }) => (body.off.includes(id) ? [] : [id])));
    const { table } = personsWith(persons, version.plan);
    return Promise.resolve(told(rememberedBridge(version.plan, body.question, question, persons, Date.now(), on, table)));
  }),
];
