/** What the thread answers, by method and path. */
import { soFar } from '../db/said-store';
import { answering } from '../server/answer';
import { database } from '../server/context';
import { arrived, seen, traffic } from './arrived';
import { atMessage, counts, drift, logbook, matrix, pairs, profile, userProperties, volume } from './arrival-views';
import { heldState, holding } from './columns';
import { clearances, figure } from './clearance';
import { findingMessages, findings, retests, triage } from './findings';
import { Remembered } from './remembered';
import { health, identity, materialise, person, personCase, situationTable, tryRules } from './identity';

type View = (request: Request) => Promise<Response>;

/** A view that reads nothing but its address. */
const at =
  (work: (url: URL) => Promise<Response>): View =>
  (request) =>
    work(new URL(request.url));

const LINES = 'application/x-ndjson';

const remembered = new Remembered();

/** What a view answers to a question that only asks, out of what is remembered where nothing has changed. */
const asked = async (view: View, request: Request): Promise<Response> => {
  const { pathname, search } = new URL(request.url);
  const state = heldState();
  const { said, came } = await soFar(database());
  const upTo = `${state.table.lastSeq} ${came}`;
  const { status, headers, bytes } = await remembered.answer(pathname + search, [state, said], upTo, async () => {
    const response = await view(request);
    return { status: response.status, headers: [...response.headers], bytes: new Uint8Array(await response.arrayBuffer()) };
  });
  return new Response(Uint8Array.from(bytes), { status, headers: headers.map(([name, value]): [string, string] => [name, value]) });
};

/** A view on one state, which is held until its answer is made: where that comes in lines, until the last one, or until nobody reads them. */
const onState =
  (view: View): View =>
  (request) =>
    answering(() =>
      holding(async (release) => {
        if (request.method === 'GET') {
          const response = await asked(view, request);
          release();
          return response;
        }
        const response = await view(request);
        if (response.headers.get('content-type') !== LINES || !response.body) {
          release();
          return response;
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
        return new Response(lines, { status: response.status, headers: response.headers });
      }),
    );

const ALL: readonly (readonly [string, View])[] = [
  ['GET /api/arrived', at(arrived)],
  ['GET /api/at-message', at(atMessage)],
  ['GET /api/clearance', at(clearances)],
  ['GET /api/counts', at(counts)],
  ['GET /api/drift', at(drift)],
  ['POST /api/figure', figure],
  ['GET /api/finding-messages', at(findingMessages)],
  ['GET /api/findings', at(findings)],
  ['POST /api/findings', triage],
  ['GET /api/identity', at(identity)],
  ['POST /api/identity', materialise],
  ['GET /api/identity-health', at(health)],
  ['GET /api/logbook', at(logbook)],
  ['GET /api/matrix', at(matrix)],
  ['GET /api/person', at(person)],
  ['GET /api/person-case', at(personCase)],
  ['GET /api/profile', at(profile)],
  ['GET /api/reconciliation', at(pairs)],
  ['GET /api/retests', at(retests)],
  ['GET /api/seen', at(seen)],
  ['GET /api/situations', at(situationTable)],
  ['GET /api/traffic', traffic],
  ['GET /api/user-properties', at(userProperties)],
  ['GET /api/volume', at(volume)],
  ['POST /api/what-if', tryRules],
];

export const VIEWS: ReadonlyMap<string, View> = new Map(ALL.map(([address, view]) => [address, onState(view)]));
