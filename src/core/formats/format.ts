/** The face of a format in which a plan is given or taken. One format a file in plan/; the registry is plan/index.ts. */
import type { Edit } from '../plan/edit';
import type { Plan } from '../plan/plan';
import type { CsvMapping } from './plan-csv';

/** A plan to write: a version, or the draft with number 0. */
export interface WrittenPlan {
  readonly plan: Plan;
  readonly number: number;
  readonly contentHash: string;
}

/** What a plan document does to the plan: all of it, all but the settings, or only what is new or changed. */
export const HOW = ['add', 'replace', 'replace all'] as const;
export type How = (typeof HOW)[number];

export interface ReadOptions {
  readonly fileName: string;
  readonly how: How;
  /** What each column means, of a sheet; guessed from its headings when left out. */
  readonly mapping?: CsvMapping | undefined;
  newId(): string;
  /** UTC epoch ms. */
  readonly now: number;
}

/** What a file would do: edits, and what is in the way. Where something is in the way, there are no edits. */
export interface Outcome {
  readonly edits: readonly Edit[];
  readonly problems: readonly { readonly where: string; readonly detail: string }[];
  /** What is not in the way, but the reader should know. */
  readonly notes: readonly string[];
  readonly summary: string;
}

export interface PlanFormat<Id extends string = string> {
  readonly id: Id;
  /** Of the file that is written, with a sentence about it. */
  readonly title: string;
  readonly note?: string;
  /** What a file to read is called, behind "it is". */
  readonly reads?: string;
  /** Whether it has columns of which a person says what they mean. */
  readonly hasColumns?: boolean;
  /** Whether it holds a whole plan, which can be added or replace what is there. */
  readonly isWhole?: boolean;
  /** Whether it says the same whatever the plan. */
  readonly isFixed?: boolean;
  readonly file?: { readonly ending: string; readonly type: string };
  /** Whether a file of this name and text looks like it. */
  recognise?(fileName: string, text: string): boolean;
  /** Errors: in the outcome; nothing throws. */
  read?(plan: Plan, text: string, options: ReadOptions): Outcome;
  write?(given: WrittenPlan): string;
}

export const defineFormat = <const Id extends string>(f: PlanFormat<Id>): PlanFormat<Id> => f;

export const outcomeOf = (
  edits: readonly Edit[],
  problems: Outcome['problems'],
  summary: string,
  notes: readonly string[] = [],
): Outcome => ({ edits: problems.length > 0 ? [] : edits, problems, notes, summary });

export const plural = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
