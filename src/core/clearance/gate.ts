/** The face of a gate. One gate a file in gates/; the registry is gates/index.ts. */
import type { UnconfirmedGroup } from '../arrival/many/premature-trigger';
import type { Plan, Question } from '../plan/plan';
import type { Watch } from '../plan/watch';
import type { Need } from '../questions/coverage';
import type { MessageTable } from '../table/message-table';

/** `open` means: not judged yet. */
export const SIGNALS = ['stop', 'caution', 'clear', 'open'] as const;
export type Signal = (typeof SIGNALS)[number];

/** What a gate says of a question. */
export interface Judgement {
  readonly signal: Signal;
  /** The evidence as one sentence; names in back quotes. */
  readonly evidence: string;
}

export interface Gate extends Judgement {
  readonly gate: string;
  /** What the gate asks. */
  readonly asks: string;
}

export interface Clearance {
  readonly signal: Signal;
  readonly gates: readonly Gate[];
}

export interface ClearanceContext {
  /** The newest published version; `undefined` when nothing is published. */
  readonly published: { readonly plan: Plan; readonly number: number; readonly publishedAt: number; readonly watch: Watch } | undefined;
  readonly table: MessageTable;
  readonly reconciled: readonly UnconfirmedGroup[];
  /** How many of the recorded messages that version has judged, while it has not judged all. */
  readonly recheck?: { readonly done: number; readonly total: number } | undefined;
  /** UTC epoch ms. */
  readonly now: number;
}

export interface GateDefinition<Id extends string = string> {
  readonly id: Id;
  /** The question that it answers. */
  readonly asks: string;
  /** `needs`: what the question's formula needs of the published plan; empty where that cannot be said. */
  judge(question: Question, needs: readonly Need[], c: ClearanceContext): Judgement;
}

export const defineGate = <const Id extends string>(g: GateDefinition<Id>): GateDefinition<Id> => g;

export const thousands = (n: number): string => n.toLocaleString('en-GB');

/** Of a gate that this product does not judge: no gate is guessed. */
export const notJudged = (): Judgement => ({ signal: 'open', evidence: 'Not judged yet: this product does not judge this gate so far.' });
