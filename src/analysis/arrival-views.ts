/** What the views of the Arrivals station show beside the findings. Each is worked out over the columns in memory. */
import { z } from 'zod';
import { arrivalCounts } from '../core/arrival/counts';
import { driftSince } from '../core/arrival/drift';
import { identifiersLike, logbookOf, personOfIdentifier } from '../core/arrival/logbook';
import { arrivalMatrix } from '../core/arrival/matrix';
import { arrivedNames, profileOf } from '../core/arrival/profile';
import { reconciliation } from '../core/arrival/reconciliation';
import { userPropertiesAt, userPropertyReport } from '../core/arrival/user-properties';
import { volumeOf } from '../core/arrival/volume';
import { listVersions } from '../db/plan-store';
import { answering, json, problem } from '../server/answer';
import { database } from '../server/context';
import { currentWatch, publishedScope } from './scope';

const MOST_TEXT = 300;
const HOUR_MS = 3_600_000;
const DAY_MS = 86_400_000;

/** `GET /api/matrix`: event × source × day of the last four weeks under the version in force. */
export const matrix = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, version, table } = publishedScope(url);
    const watch = await currentWatch(version);
    return json(arrivalMatrix(plan, table, Date.now(), watch));
  });

/** `GET /api/logbook?kind=…&value=…`: one person; `?like=…`: identifiers that contain a text. */
export const logbook = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, table, persons } = publishedScope(url);
    const like = url.searchParams.get('like');
    if (like !== null) return json(identifiersLike(table, like.slice(0, MOST_TEXT)));
    const kind = url.searchParams.get('kind') ?? '';
    const value = url.searchParams.get('value') ?? '';
    const person = personOfIdentifier(persons, kind, value);
    if (table.findNode(kind, value) < 0)
      return problem(404, 'unknown identifier', `No message carries the ${kind} ID “${value.slice(0, MOST_TEXT)}”. Look for a part of it.`);
    if (person < 0)
      return problem(
        404,
        'nobody',
        `The ${kind} ID “${value.slice(0, MOST_TEXT)}” identifies nobody: it is a placeholder, blocked, or of a kind that is not planned.`,
      );
    const book = logbookOf(plan, persons, person);
    return book ? json(book) : problem(404, 'no messages', 'This person has no messages of their own.');
  });

/** `GET /api/user-properties`: every user property that came or is planned, as it stands. */
export const userProperties = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, persons } = publishedScope(url);
    return json(userPropertyReport(plan, persons));
  });

/** `GET /api/at-message?seq=…`: the user properties of a message's person, as they were at it and as they are now. */
export const atMessage = (url: URL): Promise<Response> =>
  answering(async () => {
    const { persons } = publishedScope(url);
    const found = userPropertiesAt(persons, Number(url.searchParams.get('seq')));
    return found ? json(found) : problem(404, 'no such message', 'There is no message with this number.');
  });

const given = (url: URL, name: string): string | undefined => url.searchParams.get(name) || undefined;

/** `GET /api/volume?event=…&source=…`: messages of each day of the last eight weeks, both narrowed where given. */
export const volume = (url: URL): Promise<Response> =>
  answering(async () => {
    const versions = await listVersions(database());
    const { plan, persons } = publishedScope(url);
    const of = { eventName: given(url, 'event'), sourceId: given(url, 'source') };
    return json(volumeOf(plan, persons, versions, Date.now(), of));
  });

/** `GET /api/reconciliation`: every client event with a counterpart beside what the server confirms. */
export const pairs = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, table } = publishedScope(url);
    return json(reconciliation(plan, table, Date.now()));
  });

/** `GET /api/profile`: the names that came; `?event=…`: the profile of one. */
export const profile = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, table } = publishedScope(url);
    const name = url.searchParams.get('event');
    if (name === null) return json(arrivedNames(plan, table));
    const found = profileOf(plan, table, name, Date.now());
    return json(found ?? null);
  });

/** `GET /api/drift?since=…`: what is new or vanished since a moment (UTC epoch ms), against as much time before it, four weeks at least. */
export const drift = (url: URL): Promise<Response> =>
  answering(async () => {
    const now = Date.now();
    const since = z.coerce.number().int().positive().max(now).safeParse(url.searchParams.get('since'));
    if (!since.success) return problem(400, 'wrong moment', '`since` is a moment in the past, in milliseconds since 1970.');
    // By whole hours, so that what was seen is carried on.
    const back = Math.max(28 * DAY_MS, Math.ceil((now - since.data) / HOUR_MS) * HOUR_MS);
    return json(driftSince(publishedScope(url).table, since.data - back, since.data, now));
  });

const daysBack = z.coerce.number().int().min(1).max(36_600).catch(28);

/** `GET /api/counts?days=…`: messages, sessions and persons of the last days, and what timing and repeats do to them. They begin with a whole hour, so
 *  that what is counted is carried on.
 */
export const counts = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, persons: people } = publishedScope(url);
    const now = Date.now();
    const back = daysBack.parse(url.searchParams.get('days') ?? undefined) * DAY_MS;
    const from = Math.floor((now - back) / HOUR_MS) * HOUR_MS;
    return json(arrivalCounts({ plan, people, from, now }));
  });
