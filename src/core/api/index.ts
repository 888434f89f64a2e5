/** All endpoints. A new one is a file and a line here. */
import type { z } from 'zod';
import type { Endpoint } from './endpoint';
import { acknowledge } from './acknowledge';
import { alive } from './alive';
import { arrived } from './arrived';
import { arrivedNames } from './arrived-names';
import { atMessage } from './at-message';
import { backfill } from './backfill';
import { beginProposal } from './begin-proposal';
import { changes } from './changes';
import { clearance } from './clearance';
import { comments } from './comments';
import { counts } from './counts';
import { deadLetters } from './dead-letters';
import { decideProposal } from './decide-proposal';
import { definitionPreview } from './definition-preview';
import { dryRun } from './dry-run';
import { drift } from './drift';
import { edits } from './edits';
import { figure } from './figure';
import { findingMessages } from './finding-messages';
import { findings } from './findings';
import { health } from './health';
import { history } from './history';
import { identifiers } from './identifiers';
import { identity } from './identity';
import { identityHealth } from './identity-health';
import { intake, intakeKnown } from './intake';
import { keys } from './keys';
import { live } from './live';
import { logbook } from './logbook';
import { matrix } from './matrix';
import { messages } from './messages';
import { models } from './models';
import { newKey } from './new-key';
import { openapi } from './openapi-json';
import { people } from './people';
import { person } from './person';
import { personCase } from './person-case';
import { planAt } from './plan-at';
import { planFile } from './plan-file';
import { planJson } from './plan-json';
import { presence } from './presence';
import { processes } from './processes';
import { profile } from './profile';
import { proposal } from './proposal';
import { proposals } from './proposals';
import { keptRun } from './kept-run';
import { bridge } from './bridge';
import { signOff } from './sign-off';
import { signOffs } from './sign-offs';
import { waive } from './waive';
import { alertRules } from './alert-rules';
import { alerts } from './alerts';
import { changeAlertRule } from './change-alert-rule';
import { deliveries } from './deliveries';
import { handleAlerts } from './handle-alerts';
import { sendAgain } from './send-again';
import { answerSignal } from './answer-signal';
import { answers } from './answers';
import { newReadToken } from './new-read-token';
import { readTokens } from './read-tokens';
import { publish } from './publish';
import { reconciliation } from './reconciliation';
import { replay } from './replay';
import { followUps } from './follow-ups';
import { eventSchemaFile } from './schema';
import { seen } from './seen';
import { situations } from './situations';
import { typedCalls } from './typed-calls';
import { traffic } from './traffic';
import { beginTrial, markTrial, trialEvidence, trialRun, trialRuns, verified } from './trials';
import { handOffDocument, handOver, progress, setTracker, tracker } from './hand-off';
import { userProperties } from './user-properties';
import { version } from './version';
import { volume } from './volume';
import { whatIf } from './what-if';
import { workplace } from './workplace';

export const ENDPOINTS = [
  acknowledge,
  alive,
  arrived,
  arrivedNames,
  atMessage,
  backfill,
  beginProposal,
  changes,
  clearance,
  comments,
  counts,
  deadLetters,
  decideProposal,
  definitionPreview,
  drift,
  dryRun,
  edits,
  figure,
  findingMessages,
  findings,
  health,
  history,
  identifiers,
  identity,
  identityHealth,
  intake,
  intakeKnown,
  keys,
  live,
  logbook,
  matrix,
  messages,
  models,
  newKey,
  openapi,
  people,
  person,
  personCase,
  planAt,
  planFile,
  planJson,
  presence,
  processes,
  profile,
  proposal,
  proposals,
  keptRun,
  bridge,
  signOff,
  signOffs,
  waive,
  alerts,
  handleAlerts,
  alertRules,
  changeAlertRule,
  deliveries,
  sendAgain,
  answers,
  answerSignal,
  readTokens,
  newReadToken,
  publish,
  reconciliation,
  replay,
  followUps,
  eventSchemaFile,
  seen,
  situations,
  typedCalls,
  traffic,
  beginTrial,
  markTrial,
  trialEvidence,
  trialRun,
  trialRuns,
  verified,
  handOffDocument,
  handOver,
  progress,
  setTracker,
  tracker,
  userProperties,
  version,
  volume,
  whatIf,
  workplace,
] as const satisfies readonly Endpoint[];

type Listed = (typeof ENDPOINTS)[number];
/** Method and path, such as `GET /api/findings`. */
export type Address = { [E in Listed as `${E['method']} ${E['path']}`]: E };
export type AddressText = keyof Address;
export type QueryOf<T extends AddressText> = z.input<Address[T]['query']>;
export type BodyAt<T extends AddressText> = z.input<Address[T]['body']>;
export type AnswerOf<T extends AddressText> = z.output<Address[T]['answer']>;

/** Whether an address falls under a path, a part in braces being any one segment; what means the parts. */
export const matchPath = (path: string, asked: string): Record<string, string> | undefined => {
  const [own, given] = [path.split('/'), asked.split('/')];
  if (own.length !== given.length) return undefined;
  const parts: Record<string, string> = {};
  for (const [i, segment] of own.entries()) {
    const name = /^\{(\w+)\}$/.exec(segment)?.[1];
    if (name !== undefined && given[i] !== '') parts[name] = given[i]!;
    else if (segment !== given[i]) return undefined;
  }
  return parts;
};

/** The endpoints under an address, one a method. */
export const endpointsAt = (asked: string): readonly Endpoint[] => ENDPOINTS.filter((e) => matchPath(e.path, asked) !== undefined);
