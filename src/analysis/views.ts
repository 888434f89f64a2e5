/** What the thread answers. */
import { soFar } from '../db/said-store';
import { answering } from '../server/answer';
import { database } from '../server/context';
import type { Served } from '../server/serve';
import { ALERT_RULES } from './alerts';
import { ARRIVAL_VIEWS } from './arrival-views';
import { ARRIVED } from './arrived';
import { CLEARANCE } from './clearance';
import { DEFINITION_VIEWS } from './definitions';
import { heldState, holding } from './columns';
import { BRIDGE } from './bridge';
import { DRY_RUN } from './dry-run';
import { FIGURE } from './figure';
import { FINDINGS } from './findings';
import { IDENTITY_VIEWS } from './identity';
import { MODELS } from './models';
import { Remembered } from './remembered';
import { TRIAL_VIEWS } from './trials';

type View = Served['handle'];

const LINES = 'application/x-ndjson';

const remembered = new Remembered();

/** An answer that is not of the newest says how old it is, in whole seconds. Source: RFC 9111, section 5.1. */
const aged = (response: Response, ms: number): Response => {
  if (ms > 0) response.headers.set('age', String(Math.ceil(ms / 1000)));
  return response;
};

/** What a view answers to a question that only asks, out of what is remembered where nothing has changed. `age`: of the state that is held by then, in ms. */
const asked = async (view: View, request: Request, release: () => void, age: () => number): Promise<Response> => {
  const { pathname, search } = new URL(request.url);
  const state = heldState();
  const { said, came } = await soFar(database());
  const upTo = `${state.table.lastSeq} ${came}`;
  let isOwn = false;
  const recalled = remembered.answer(pathname + search, [state, said], upTo, async () => {
    isOwn = true;
    const response = await view(request);
    return { status: response.status, headers: [...response.headers], bytes: new Uint8Array(await response.arrayBuffer()) };
  });
  // Who waits for what another works out needs no state, and holds none up.
  if (!isOwn) release();
  const { status, headers, bytes } = await recalled.answer;
  const response = new Response(Uint8Array.from(bytes), {
    status,
    headers: headers.map(([name, value]): [string, string] => [name, value]),
  });
  return aged(response, Math.max(age(), recalled.age));
};

/** A view on one state, which is held until its answer is made: where that comes in lines, until the last one, or until nobody reads them. */
const onState =
  (view: View): View =>
  (request) =>
    answering(() =>
      holding(async (release, age) => {
        if (request.method === 'GET') {
          const response = await asked(view, request, release, age);
          release();
          return response;
        }
        const response = await view(request);
        if (response.headers.get('content-type') !== LINES || !response.body) {
          release();
          return aged(response, age());
        }
        const reader = response.body.getReader();
        const lines = new ReadableStream<Uint8Array>({
          pull: async (out) => {
            const { done, value } = await reader.read().catch((e: unknown) => {
              release();
              throw e;
            });
            if (!done) return out.enqueue(value);
            release();
            out.close();
          },
          cancel: async () => {
            await reader.cancel().catch(() => undefined);
            release();
          },
        });
        return aged(new Response(lines, { status: response.status, headers: response.headers }), age());
      }),
    );

/** What the thread answers; views of one state, each under the contract that it keeps. */
export const ANALYSED: readonly Served[] = [
  ALERT_RULES,
  ARRIVAL_VIEWS,
  ARRIVED,
  CLEARANCE,
  DEFINITION_VIEWS,
  BRIDGE,
  DRY_RUN,
  FIGURE,
  FINDINGS,
  IDENTITY_VIEWS,
  MODELS,
  TRIAL_VIEWS,
].flat();

export const VIEWS: ReadonlyMap<string, View> = new Map(
  ANALYSED.map(({ endpoint, handle }) => [`${endpoint.method} ${endpoint.path}`, onState(handle)]),
);
