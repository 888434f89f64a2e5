/** The face of a gate. One gate a file in gates/; the registry is gates/index.ts. */
import type { UnconfirmedGroup } from '../arrival/many/premature-trigger';
import type { Plan, Question, Thresholds } from '../plan/plan';
import type { ReconciledPair } from '../arrival/reconciliation';
import type { FindingGroup } from '../arrival/finding-group';
import type { CountingBasis } from '../identity/counting-basis';
import type { Watch } from '../plan/watch';
import type { FigureContext } from '../questions/figure';
import type { Raise } from './lowering';
import type { Need } from '../questions/coverage';
import type { MessageTable } from '../table/message-table';

/** `open` means: not judged yet. */
export const SIGNALS = ['stop', 'caution', 'clear', 'open'] as const;
export type Signal = (typeof SIGNALS)[number];

/** In the order in which they are passed; the registry is gates/index.ts. */
export const GATE_IDS = ['planned', 'built', 'settled', 'conforming', 'identified', 'complete', 'fresh'] as const;
export type GateId = (typeof GATE_IDS)[number];

/** What a gate says of a question. */
export interface Judgement {
  readonly signal: Signal;
  /** The evidence in a few words, for one line; the whole sentence where it is short enough. */
  readonly brief?: string;
  /** The evidence as one sentence; names in back quotes. */
  readonly evidence: string;
  /** The numbers behind it. */
  readonly numbers?: readonly GateNumber[];
  /** Keys of the findings that lower it. */
  readonly findings?: readonly string[];
  /** What would raise it, and whose work that is. */
  readonly raise?: readonly Raise[];
  /** When it will be judged, or judged anew, where that is a matter of time. UTC epoch ms. */
  readonly judgedAt?: number;
  /** The last day, such as `2026-11-27`, that is complete enough to read. */
  readonly completeUpTo?: string;
}

export interface GateNumber {
  readonly what: string;
  readonly value: string;
}

export interface Waived {
  readonly author: string;
  readonly reason: string;
  /** UTC epoch ms. */
  readonly at: number;
  readonly until: number;
  /** As the gate is judged. */
  readonly from: Signal;
}

/** `atLeast`: nothing is known of before, so that it may have been so for longer. UTC epoch ms. */
export interface SinceWhen {
  readonly at: number;
  readonly atLeast: boolean;
}

export interface Gate extends Judgement {
  readonly gate: GateId;
  /** What the gate asks. */
  readonly asks: string;
  /** Since when it has this signal, where that was followed. */
  readonly since?: SinceWhen;
  /** Who answers for it that it does not stop the question, where somebody does. */
  readonly waived?: Waived;
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
  /** What clients and servers say of the same, pair by pair. */
  readonly confirmed?: readonly ReconciledPair[] | undefined;
  /** What is found on messages and over many; `undefined` while nobody has looked. */
  readonly groups?: readonly FindingGroup[] | undefined;
  /** What figures are worked out on, under a counting basis. */
  readonly figures?: ((basis: CountingBasis) => FigureContext) | undefined;
  /** How many of the recorded messages that version has judged, while it has not judged all. */
  readonly recheck?: { readonly done: number; readonly total: number } | undefined;
  /** UTC epoch ms. */
  readonly now: number;
}

/** A question with the thresholds that hold for it. */
export type JudgedQuestion = Question & { readonly thresholds: Thresholds };

export interface GateDefinition<Id extends GateId = GateId> {
  readonly id: Id;
  /** The question that it answers. */
  readonly asks: string;
  /** `needs`: what the question's formula needs of the published plan; empty where that cannot be said. */
  judge(question: JudgedQuestion, needs: readonly Need[], c: ClearanceContext): Judgement;
}

export const defineGate = <const Id extends GateId>(g: GateDefinition<Id>): GateDefinition<Id> => g;

export const thousands = (n: number): string => n.toLocaleString('en-GB');

export const percent = (share: number): string => `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;

/** A span in the largest unit that it has two of. */
export const span = (ms: number): string => {
  const units = [['day', 86_400_000], ['hour', 3_600_000], ['minute', 60_000]] as const; // prettier-ignore
  const [name, size] = units.find(([, s]) => ms >= 2 * s) ?? ['minute', 60_000];
  const n = Math.max(1, Math.round(ms / size));
  return `${thousands(n)} ${name}${n === 1 ? '' : 's'}`;
};

/** A gate that waits for something to be looked at. */
export const notLooked = (): Judgement => ({ signal: 'open', evidence: 'The messages are still being looked through.' });
