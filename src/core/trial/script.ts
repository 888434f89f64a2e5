/** A trial: what a tester does, step by step, and what must come of it. It is kept with the plan, and says the same for a live run and for a file. */
import type { PropertyRef } from '../plan/property-path';

/** How a value must be. `remembered`: as an earlier step of the run remembered it. */
export type Wanted =
  | { readonly is: 'exactly'; readonly value: string }
  | { readonly is: 'like'; readonly pattern: string }
  | { readonly is: 'remembered'; readonly as: string }
  | { readonly is: 'any' };

export interface WantedValue {
  readonly property: PropertyRef;
  readonly wanted: Wanted;
  /** The name under which later steps know the value. */
  readonly remember?: string | undefined;
}

export interface Expected {
  readonly event: string;
  /** How often at least, and at most. */
  readonly min: number;
  readonly max: number;
  /** The sources it may come from; any that the plan asks it of where there are none. */
  readonly sources: readonly string[];
  readonly values: readonly WantedValue[];
  /** Identifier kinds that it must carry. */
  readonly ids: readonly string[];
}

export interface TrialStep {
  readonly id: string;
  /** What the tester does, in words. */
  readonly does: string;
  readonly expects: readonly Expected[];
  /** Names of events that must not come of it. */
  readonly forbids: readonly string[];
  /** Whether what is expected must come in this order. */
  readonly inOrder: boolean;
  /** How long what is expected may take. */
  readonly waitMs: number;
}

export interface TrialScript {
  readonly name: string;
  /** What it is about, for whoever does it. */
  readonly about: string;
  readonly flow: string;
  readonly steps: readonly TrialStep[];
  readonly owner: string;
  readonly retired: boolean;
}

/** What a step waits at least, since a sender waits for company and a server for its disk. */
export const USUAL_WAIT_MS = 15_000;

export const blankStep = (id: string): TrialStep => ({ id, does: '', expects: [], forbids: [], inOrder: false, waitMs: USUAL_WAIT_MS });

/** Every event that a step speaks of, once each. */
export const eventsOfStep = (s: TrialStep): string[] => [...new Set([...s.expects.map((e) => e.event), ...s.forbids])];

export const eventsOfTrial = (t: Pick<TrialScript, 'steps'>): string[] => [...new Set(t.steps.flatMap(eventsOfStep))];
