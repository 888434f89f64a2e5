/** What a check of a build says: one model for every way in which it is told. */
import { bySeverity, countBySeverity, type Severity } from '../findings/severity';

/** Where it is: a file, and a place in it that counts from 1. */
export interface Place {
  readonly file: string;
  readonly line?: number | undefined;
  readonly column?: number | undefined;
}

export interface Result {
  readonly code: string;
  readonly severity: Severity;
  /** What it is about, in a few words: an event, a property, a step. */
  readonly subject: string;
  readonly sentence: string;
  readonly fix: string;
  readonly places: readonly Place[];
  /** Messages, where it counts some; and out of how many. */
  readonly count?: number | undefined;
  readonly outOf?: number | undefined;
}

/** A rule or a check that results name by its code. */
export interface RuleWords {
  readonly code: string;
  readonly title: string;
  readonly why: string;
  readonly severity: Severity;
}

/** A case of a test: what passed is told too, so that a run that looked at nothing can be told from one that found nothing. */
export interface Case {
  readonly group: string;
  readonly name: string;
  readonly state: 'passed' | 'failed' | 'skipped';
  readonly text: string;
  readonly place?: Place | undefined;
}

export interface Report {
  /** The command, such as `lint`. */
  readonly command: string;
  readonly title: string;
  /** What was looked at, a line each. */
  readonly facts: readonly string[];
  readonly results: readonly Result[];
  readonly rules: readonly RuleWords[];
  readonly cases: readonly Case[];
}

export const FAIL_ON = ['stop', 'caution', 'note', 'never'] as const;
export type FailOn = (typeof FAIL_ON)[number];

/** Whether results are grave enough that a build must not go on. */
export const fails = (results: readonly { readonly severity: Severity }[], failOn: FailOn): boolean =>
  failOn !== 'never' && results.some((r) => bySeverity(r, { severity: failOn }) <= 0);

/** Gravest first, then by subject and code, so that two runs over the same say the same. */
export const ordered = (results: readonly Result[]): Result[] =>
  [...results].sort(
    (a, b) => bySeverity(a, b) || (a.subject < b.subject ? -1 : a.subject > b.subject ? 1 : a.code < b.code ? -1 : a.code > b.code ? 1 : 0),
  );

/** How many of each severity, in words. */
export const countText = (results: readonly { readonly severity: Severity }[]): string => {
  const { stop, caution, note } = countBySeverity(results);
  return results.length === 0 ? 'nothing found' : `${stop} stop, ${caution} caution, ${note} ${note === 1 ? 'note' : 'notes'}`;
};
