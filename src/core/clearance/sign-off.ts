/** A person's word that a question may be relied on: for a version, as its gates were, and until one of them falls. */
import { canonicalJson, fingerprint } from '../plan/content-hash';
import { settingsOf, type Id, type Plan, type Question } from '../plan/plan';
import { meaningOf } from '../plan/watch';
import { needsOf } from '../questions/coverage';
import type { Clearance, Signal } from './gate';
import { hangsOn } from './hangs-on';
import { countsPeople } from './reach';

export interface SignOff {
  readonly id: number;
  readonly questionId: Id;
  readonly version: number;
  /** UTC epoch ms, as all instants here. */
  readonly at: number;
  readonly author: string;
  readonly note: string;
  readonly signal: Signal;
  /** Gate → its signal, and its evidence, when it was signed. */
  readonly gates: Readonly<Record<string, { readonly signal: Signal; readonly evidence: string }>>;
  /** The figure's one number when it was signed; `null` where it had none. */
  readonly headline: number | null;
  /** Fingerprint of what the question meant. */
  readonly meaning: string;
  /** Until when it holds; `null` without an end. */
  readonly until: number | null;
  /** When and why it fell, or was taken back; `null` while it holds. */
  readonly fellAt: number | null;
  readonly because: string | null;
}

/** What a question means under a plan: its formula, and whatever of the plan its figure hangs on. Words for readers are no part of it.
 *  Shape: a fingerprint; two plans that mean the same give the same.
 */
export const meaningOfQuestion = (plan: Plan, question: Question): string => {
  const f = question.formula;
  const parts: unknown[] = [
    f,
    ...(f ? hangsOn(plan, f, needsOf(question)).map(({ kind, name, body }) => [kind, name, meaningOf(body)]) : []),
  ];
  if (f && countsPeople(f)) parts.push(settingsOf(plan).identity);
  return fingerprint(canonicalJson(parts));
};

const RANK: Readonly<Record<Signal, number>> = { stop: 0, caution: 1, open: 2, clear: 2 };

export interface Standing {
  readonly version: number;
  /** `undefined` where the version has no such question any more. */
  readonly meaning: string | undefined;
  readonly clearance: Clearance | undefined;
}

/** Why a sign-off no longer holds, at a moment; `undefined` while it does. A gate that waits to be judged has not fallen. */
export const fallOf = (s: SignOff, { version, meaning, clearance }: Standing, now: number): string | undefined => {
  if (s.until !== null && now >= s.until) return 'Its end date has come.';
  if (meaning === undefined || !clearance) return `Version ${version} does not have the question.`;
  if (meaning !== s.meaning) return `Version ${version} changed what it means.`;
  for (const g of clearance.gates) {
    const signed = s.gates[g.gate]?.signal ?? 'clear';
    if (RANK[g.signal] < RANK[signed]) return `The gate ${g.gate} fell from ${signed} to ${g.signal}: ${g.evidence}`;
  }
  return undefined;
};
