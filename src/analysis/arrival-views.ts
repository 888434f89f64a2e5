/** What the views of the Arrivals station show beside the findings. Each is worked out over the columns in memory. */
import { arrivedNames } from '../core/api/arrived-names';
import { atMessage } from '../core/api/at-message';
import { counts } from '../core/api/counts';
import { drift } from '../core/api/drift';
import { identifiers } from '../core/api/identifiers';
import { logbook } from '../core/api/logbook';
import { matrix } from '../core/api/matrix';
import { profile } from '../core/api/profile';
import { reconciliation } from '../core/api/reconciliation';
import { userProperties } from '../core/api/user-properties';
import { volume } from '../core/api/volume';
import { arrivalCounts } from '../core/arrival/counts';
import { driftSince } from '../core/arrival/drift';
import { identifiersLike, logbookOf, personOfIdentifier } from '../core/arrival/logbook';
import { arrivalMatrix } from '../core/arrival/matrix';
import { arrivedNames as namesThatArrived, profileOf } from '../core/arrival/profile';
import { reconciliation as reconciled } from '../core/arrival/reconciliation';
import { userPropertiesAt, userPropertyReport } from '../core/arrival/user-properties';
import { volumeOf } from '../core/arrival/volume';
import { personsWith } from '../core/definitions/defined-events';
import { listVersions } from '../db/plan-store';
import { problem } from '../server/answer';
import { database } from '../server/context';
import { serve } from '../server/serve';
import { DAY_MS, HOUR_MS } from '../core/time';
import { currentWatch, publishedScope } from './scope';

const MAX_TEXT = 300;

export const ARRIVAL_VIEWS = [
  serve(matrix, async ({ url }) => {
    const { plan, version, table } = publishedScope(url);
    const watch = await currentWatch(version);
    return arrivalMatrix(plan, table, Date.now(), watch);
  }),
  serve(identifiers, ({ url, query }) => identifiersLike(publishedScope(url).table, query.like)),
  serve(logbook, ({ url, query: { kind, value } }) => {
    const { plan, table, persons } = publishedScope(url);
    const person = personOfIdentifier(persons, kind, value);
    const shown = `The ${kind} ID “${value.slice(0, MAX_TEXT)}”`;
    if (table.nodes.find(kind, value) < 0)
      return problem(404, 'unknown identifier', `No message carries the ${kind} ID “${value.slice(0, MAX_TEXT)}”. Look for a part of it.`);
    if (person < 0)
      return problem(404, 'nobody', `${shown} identifies nobody: it is a placeholder, blocked, or of a kind that is not planned.`);
    return logbookOf(plan, persons, person) ?? problem(404, 'no messages', 'This person has no messages of their own.');
  }),
  serve(userProperties, ({ url }) => {
    const { plan, persons } = publishedScope(url);
    return userPropertyReport(plan, persons);
  }),
  serve(atMessage, ({ url, query }) => {
    const { persons } = publishedScope(url);
    return userPropertiesAt(persons, query.seq) ?? problem(404, 'no such message', 'There is no message with this number.');
  }),
  serve(volume, async ({ url, query }) => {
    const versions = await listVersions(database());
    const { plan, persons } = publishedScope(url);
    const seen = personsWith(persons, plan);
    const of = { eventName: query.event || undefined, sourceId: query.source || undefined };
    return volumeOf(plan, seen, versions, Date.now(), of);
  }),
  serve(reconciliation, ({ url }) => {
    const { plan, table } = publishedScope(url);
    return reconciled(plan, table, Date.now());
  }),
  serve(arrivedNames, ({ url }) => {
    const { plan, persons } = publishedScope(url);
    return namesThatArrived(plan, personsWith(persons, plan).table);
  }),
  serve(profile, ({ url, query }) => {
    const { plan, persons } = publishedScope(url);
    return profileOf(plan, personsWith(persons, plan).table, query.event, Date.now()) ?? null;
  }),
  // Against as much time before it, four weeks at least.
  serve(drift, ({ url, query: { since } }) => {
    const now = Date.now();
    if (since > now) return problem(400, 'wrong moment', '`since` is a moment in the past, in milliseconds since 1970.');
    // By whole hours, so that what was seen is carried on.
    const back = Math.max(28 * DAY_MS, Math.ceil((now - since) / HOUR_MS) * HOUR_MS);
    return driftSince(publishedScope(url).table, since - back, since, now);
  }),
  // They begin with a whole hour, so that what is counted is carried on.
  serve(counts, ({ url, query }) => {
    const { plan, persons: people } = publishedScope(url);
    const now = Date.now();
    const from = Math.floor((now - query.days * DAY_MS) / HOUR_MS) * HOUR_MS;
    return arrivalCounts({ plan, people, from, now });
  }),
];
