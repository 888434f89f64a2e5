/** The tables, typed. The truth is in the migrations; this follows them. */
import type { ColumnType, Generated, JSONColumnType } from 'kysely';
import type { FoundGroup } from '../core/arrival/finding-group';
import type { Happened } from '../core/alerts/happened';
import type { AlertRule } from '../core/alerts/rule';
import type { Watched } from '../core/alerts/watched';
import type { Told } from '../core/alerts/written';
import type { Answer } from '../core/clearance/answer';
import type { SignOff } from '../core/clearance/sign-off';
import type { Mark, Tester } from '../core/trial/run';
import type { TrialScript } from '../core/trial/script';
import type { TrialEvidence } from '../core/trial/trial-run';
import type { DryRun } from '../core/scenario/dry-run';
import type { Edit } from '../core/plan/edit';
import type { BodyOf, Kind, Plan } from '../core/plan/plan';

type Json<T> = ColumnType<T, string, string>;
type Created = ColumnType<Date, Date | string | undefined, never>;

export interface Schema {
  workspaces: {
    id: Generated<number>;
    name: string;
    published_version: number | null;
    created_at: Created;
  };
  write_keys: {
    id: Generated<string>;
    workspace_id: number;
    source_id: string;
    hash: Buffer;
    label: string;
    created_at: Created;
    expires_at: Date | null;
    revoked_at: ColumnType<Date | null>;
    per_minute: number | null;
    last_used_at: Date | null;
  };
  many_findings: {
    workspace_id: number;
    plan_version: number;
    up_to: string;
    found_at: ColumnType<Date, Date, Date>;
    groups: Json<readonly FoundGroup[]>;
  };
  key_usage: { key_id: string; minute: string; messages: string };
  dead_letters: {
    id: Generated<string>;
    workspace_id: number;
    at: Created;
    source_id: string;
    reason: string;
    detail: string;
    bytes: Buffer;
    size: string;
    replayed_at: Date | null;
  };
  plan_entities: {
    workspace_id: number;
    kind: Kind;
    id: string;
    rev: number;
    body: Json<BodyOf[Kind]>;
    updated_at: ColumnType<Date, Date, Date>;
  };
  plan_changes: {
    seq: Generated<string>;
    workspace_id: number;
    at: Created;
    author: string;
    label: string;
    edits: Json<Edit[]>;
  };
  plan_versions: {
    workspace_id: number;
    number: number;
    document: Json<Plan>;
    content_hash: string;
    note: string;
    author: string;
    at: Created;
  };
  column_segments: { workspace_id: number; after: string; up_to: string; rows: number; format: number; bytes: Buffer };
  processes: { id: string; roles: string[]; address: string; seen_at: Created };
  message_keys: { workspace_id: number; message_id: string; source_id: string; content: string; seq: string | null; elsewhere: boolean };
  messages: {
    seq: Generated<string>;
    workspace_id: number;
    message_id: string;
    source_id: string;
    kind: string;
    name: string;
    release: string;
    occurred_at: Date;
    received_at: Date;
    body: JSONColumnType<Record<string, unknown>>;
  };
  verdicts: { workspace_id: number; plan_version: number; seq: string; findings: Json<unknown[]> };
  intake_counts: { workspace_id: number; source_id: string; day: string; accepted: string; duplicates: string; refused: string };
  rechecks: { workspace_id: number; plan_version: number; up_to: string; done: string; finished_at: Date | null };
  questions: { workspace_id: number; id: string; text: string; owner: string; formula: unknown };
  proposals: {
    id: string;
    workspace_id: number;
    name: string;
    note: string;
    author: string;
    at: Created;
    base_version: number;
    status: Generated<'open' | 'accepted' | 'declined'>;
    decided_by: string | null;
    decided_at: Date | null;
    decision_note: string | null;
  };
  proposal_runs: {
    id: Generated<string>;
    proposal_id: string;
    at: Created;
    author: string;
    last_change: string;
    run: Json<DryRun>;
  };
  proposal_changes: {
    seq: Generated<string>;
    proposal_id: string;
    at: Created;
    author: string;
    label: string;
    edits: Json<Edit[]>;
  };
  comments: {
    id: Generated<string>;
    workspace_id: number;
    proposal_id: string | null;
    kind: string;
    entity_id: string;
    author: string;
    at: Created;
    body: string;
    resolved_by: string | null;
    resolved_at: Date | null;
  };
  acknowledgements: {
    workspace_id: number;
    finding_key: string;
    reason: string;
    until: Date;
    assignee: string;
    author: string;
    at: Created;
    releases: string[] | null;
    share: number | null;
  };
  signals: {
    id: Generated<string>;
    workspace_id: number;
    question_id: string;
    at: Date;
    version: number;
    signal: string;
    gates: Json<SignOff['gates']>;
  };
  sign_offs: {
    id: Generated<string>;
    workspace_id: number;
    question_id: string;
    version: number;
    at: Created;
    author: string;
    note: string;
    signal: string;
    gates: Json<SignOff['gates']>;
    headline: number | null;
    meaning: string;
    until: Date | null;
    fell_at: Date | null;
    because: string | null;
  };
  waivers: {
    id: Generated<string>;
    workspace_id: number;
    question_id: string;
    gate: string;
    reason: string;
    author: string;
    at: Created;
    until: Date;
    ended_at: Date | null;
    because: string | null;
  };
  answers: { workspace_id: number; question_id: string; place: number; version: number; at: Date; body: Json<Answer> };
  read_tokens: {
    id: Generated<string>;
    workspace_id: number;
    hash: Buffer;
    label: string;
    author: string;
    created_at: Created;
    revoked_at: Date | null;
    last_used_at: Date | null;
  };
  alert_rules: {
    id: Generated<string>;
    workspace_id: number;
    body: Json<AlertRule>;
    rev: Generated<number>;
    secret: string;
    author: string;
    at: Generated<Date>;
    removed_at: Date | null;
  };
  alert_state: { workspace_id: number; look: string; at: Date; body: Json<Watched> };
  alerts: {
    id: Generated<string>;
    workspace_id: number;
    cause: string;
    kind: string;
    severity: string;
    body: Json<Happened>;
    at: Date;
    done_at: Date | null;
    done_by: string | null;
    snoozed_until: Date | null;
  };
  deliveries: {
    id: string;
    workspace_id: number;
    rule_id: string;
    rule_name: string;
    by: string;
    target: string;
    told: Json<Told[]>;
    made_at: Created;
    next_at: Date;
    claimed_until: Date | null;
    tries: Generated<number>;
    state: Generated<string>;
    status: number | null;
    error: string | null;
    done_at: Date | null;
  };
  stand_in_post: { id: Generated<string>; at: Created; kind: string; head: Json<Record<string, string>>; body: string };
  trial_runs: {
    id: string;
    workspace_id: number;
    trial_id: string;
    script: Json<TrialScript>;
    rules: string;
    plan_version: number;
    plan_hash: string;
    tester: Json<Tester>;
    environment: string;
    author: string;
    marks: ColumnType<Mark[], string | undefined, string>;
    from_seq: string;
    started_at: Created;
    touched_at: ColumnType<Date, Date | undefined, Date>;
    ended_at: Date | null;
    state: Generated<string>;
    evidence: ColumnType<TrialEvidence | null, string | null, string | null>;
  };
  trial_results: {
    run_id: string;
    workspace_id: number;
    event_name: string;
    source_id: string;
    release: string;
    plan_version: number;
    author: string;
    passed: boolean;
    at: Created;
  };
  trial_senders: { run_id: string; source_id: string; message_id: string };
  hand_overs: {
    id: Generated<string>;
    workspace_id: number;
    event_id: string;
    source_id: string;
    plan_version: number;
    address: string;
    author: string;
    at: Created;
  };
  trackers: { workspace_id: number; address: string; secret: string; author: string; at: ColumnType<Date, Date | undefined, Date> };
  presence: { workspace_id: number; session: string; author: string; place: string; seen_at: Date };
}
