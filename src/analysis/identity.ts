/** Persons of the recorded messages, under each counting basis. */
import { identity } from '../core/api/identity';
import { identityHealth as healthEndpoint } from '../core/api/identity-health';
import { person } from '../core/api/person';
import { personCase } from '../core/api/person-case';
import { situations as situationsEndpoint } from '../core/api/situations';
import { whatIf as whatIfEndpoint } from '../core/api/what-if';
import { identityReport } from '../core/identity/report';
import { identityHealth } from '../core/identity/health';
import { personGraph } from '../core/identity/person-graph';
import { stepsOf } from '../core/identity/own-cases';
import { rehearse } from '../core/identity/rehearsal';
import { personOfIdentifier } from '../core/arrival/logbook';
import { situations } from '../core/identity/situations';
import { whatIf } from '../core/identity/what-if';
import { parseBody } from '../core/plan/document-schema';
import { settingsOf, type Settings } from '../core/plan/plan';
import { personRulesOf } from '../core/identity/person-rules';
import { problem } from '../server/answer';
import { serve, serveSteps } from '../server/serve';
import { chosenScope, draftScope } from './scope';

const unknown = (kind: string, value: string): Response =>
  problem(404, 'unknown identifier', `No message carries the ${kind} ID “${value.slice(0, 300)}”.`);

export const IDENTITY_VIEWS = [
  serve(identity, async ({ url }) => identityReport((await chosenScope(url)).persons)),
  serve(healthEndpoint, async ({ url, query }) => {
    const { plan, persons } = await chosenScope(url);
    return identityHealth(plan, persons, Date.now(), query.base);
  }),
  serve(situationsEndpoint, async ({ url }) => {
    const { plan, table } = await chosenScope(url);
    return situations(plan, table);
  }),
  serve(person, async ({ url, query: { kind, value } }) => {
    const { table, persons } = await chosenScope(url);
    const node = table.nodes.find(kind, value);
    return node < 0 ? unknown(kind, value) : personGraph(persons, node);
  }),
  serve(personCase, async ({ url, query: { kind, value } }) => {
    const { plan, persons } = await chosenScope(url);
    const { identity: rules } = settingsOf(plan);
    const own = personOfIdentifier(persons, kind, value);
    if (own < 0) return problem(404, 'nobody', `The ${kind} ID “${value.slice(0, 300)}” identifies nobody.`);
    const taken = stepsOf(persons, own);
    return { steps: taken, persons: rehearse(taken, taken.length, rules).persons.length };
  }),
  serveSteps(whatIfEndpoint, async ({ url, body }) => {
    const { plan, table, version } = await draftScope(url);
    const parsed = parseBody('settings', { ...settingsOf(plan), identity: body.identity });
    if (!parsed.ok) return problem(400, 'rules rejected', parsed.detail);
    const after = personRulesOf(plan, (parsed.value as Settings).identity);
    const before = version ? personRulesOf(version.plan) : after;
    return whatIf(plan, table, before, after, Date.now());
  }),
];
