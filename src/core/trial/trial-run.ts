/** A run as it is kept, and as it is shown. */
import type { Plan } from '../plan/plan';
import type { Mark, Tester, TrialMessage } from './run';
import type { TrialScript } from './script';
import type { TrialVerdict } from './verdict-shape';

export interface KeptTrialRun {
  readonly id: string;
  readonly trialId: string;
  readonly script: TrialScript;
  /** Which plan it is judged by. */
  readonly rules: 'published' | 'draft';
  readonly planVersion: number;
  readonly planHash: string;
  readonly tester: Tester;
  readonly environment: string;
  readonly author: string;
  readonly marks: readonly Mark[];
  /** UTC epoch ms. */
  readonly startedAt: number;
  readonly touchedAt: number;
  readonly endedAt: number | null;
  readonly state: TrialVerdict['state'];
}

/** What a run came to, with what its judge saw. */
export interface TrialEvidence {
  readonly verdict: TrialVerdict;
  readonly messages: readonly TrialMessage[];
  /** What else is to be known of it, a sentence each. */
  readonly facts: readonly string[];
  readonly warnings: readonly string[];
}

export interface TrialRunView extends TrialEvidence {
  readonly run: KeptTrialRun;
}

/** One event, tried on a source in a release. */
export interface TrialResult {
  readonly eventName: string;
  readonly sourceId: string;
  readonly release: string;
  readonly planVersion: number;
  readonly author: string;
  readonly runId: string;
  /** UTC epoch ms. */
  readonly at: number;
  /** Whether it came as it must; a later trial of the same release takes back what an earlier one showed. */
  readonly passed: boolean;
}

/** So long after somebody last did anything in a run it is taken for abandoned. */
export const ABANDONED_MS = 2 * 3_600_000;

export const isAbandoned = (r: Pick<KeptTrialRun, 'endedAt' | 'touchedAt'>, now: number): boolean =>
  r.endedAt === null && now - r.touchedAt > ABANDONED_MS;

export const testerText = (t: Tester): string =>
  t.by === 'identifier' ? t.value : t.by === 'address' ? `the address ${t.value}` : `${t.name} = ${t.value}`;

/** How many of the people in sight a tester may be: what is to be said when the identifier is that of a device, and others may use it too. */
export const testerWarnings = (
  plan: Plan,
  tester: Tester,
  seen: {
    readonly kinds: ReadonlySet<string>;
    readonly users: number;
    readonly mine: number;
    readonly others: number;
    readonly elsewhere: ReadonlyMap<string, number>;
  },
): string[] => {
  const out: string[] = [];
  const person = Object.values(plan.identifierKind)
    .filter((k) => k.identifies === 'person')
    .map((k) => k.name);
  if (seen.mine === 0) {
    const elsewhere = [...seen.elsewhere].map(([e, n]) => `${n} in ${e}`).join(', ');
    out.push(
      elsewhere !== ''
        ? `No message of ${testerText(tester)} arrived in this environment since the run began; ${elsewhere}.`
        : seen.others > 0
          ? `No message of ${testerText(tester)} arrived since the run began, and ${seen.others} of others did. Is it what your messages carry?`
          : `No message of ${testerText(tester)} arrived since the run began.`,
    );
  } else if (tester.by === 'identifier' && ![...seen.kinds].some((k) => person.includes(k)))
    out.push('Not signed in: others who use this device may be taken for you.');
  if (seen.users > 1)
    out.push(`${seen.users} user IDs were on this device meanwhile: messages of more than one person may be among these.`);
  return out;
};
