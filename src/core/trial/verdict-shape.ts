/** What a run of a trial came to, as it is kept and shown. */
import type { TrialMessage } from './run';
import type { Expected } from './script';

/** `waiting`: it may still come, or come once too often. `gap`: nothing came of the step at all. */
export type StepState = 'not begun' | 'waiting' | 'passed' | 'failed' | 'gap' | 'skipped' | 'not judged';

/** One thing that is not as it must be, with what is expected and what came, in words. */
export interface Misfit {
  readonly what:
    | 'missing'
    | 'too many'
    | 'value'
    | 'type'
    | 'identifier'
    | 'order'
    | 'source'
    | 'finding'
    | 'not wanted'
    | 'nothing remembered'
    | 'already fires';
  /** The event that it is about. */
  readonly event: string;
  readonly sentence: string;
  readonly expected: string;
  readonly received: string;
  readonly messages: readonly string[];
  /** The same messages by their numbers: an ID is its source's own. Not there in evidence that was kept before it was noted. */
  readonly seqs?: readonly number[] | undefined;
}

export interface ExpectedVerdict {
  readonly expected: Expected;
  readonly messages: readonly TrialMessage[];
  /** Of each message the values and identifiers that are spoken of, in words; not there in evidence that was kept before it was said. */
  readonly received?: readonly string[] | undefined;
  readonly misfits: readonly Misfit[];
}

export interface StepVerdict {
  readonly step: string;
  readonly does: string;
  readonly state: StepState;
  /** When it began and when it is judged at the latest, UTC epoch ms; `undefined` before it began. */
  readonly from: number | undefined;
  readonly until: number | undefined;
  readonly expected: readonly ExpectedVerdict[];
  /** What must not have come, and came. */
  readonly forbidden: readonly Misfit[];
  /** What came besides: nobody spoke of it. */
  readonly besides: readonly TrialMessage[];
  readonly remarks: readonly string[];
  readonly reason: string;
}

export interface TrialVerdict {
  readonly state: 'not begun' | 'running' | 'passed' | 'failed' | 'incomplete';
  readonly steps: readonly StepVerdict[];
  /** Of the baseline, where it was recorded. */
  readonly baseline: { readonly state: 'clean' | 'already fires' | 'waiting'; readonly misfits: readonly Misfit[] } | undefined;
  /** Sources and releases in which everything that was expected of them came. */
  readonly verified: readonly Tried[];
  /** Sources and releases that sent something otherwise than expected, or were at work and did not send it; not there in evidence that was kept before
   *  it was noted. */
  readonly refuted?: readonly Tried[] | undefined;
}

export interface Tried {
  readonly event: string;
  readonly sourceId: string;
  readonly release: string;
}
