/** A person's word that a question may be relied on: for a version, as its gates were, and until one of them falls. */
import { canonicalJson, fingerprint } from '../plan/content-hash';
import { definitionNamed, rawNeeds } from '../definitions/planned';
import { plannedAt, settingsOf, type Id, type Plan, type Question } from '../plan/plan';
import { eventNamed, plannedPropertiesOf } from '../plan/plan-index';
import { meaningOf } from '../plan/watch';
import { needsOf, userPropertiesOf } from '../questions/coverage';
import { refText } from '../plan/property-path';
import type { Clearance, Signal } from './gate';
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
  const parts: unknown[] = [question.formula];
  for (const need of needsOf(question)) {
    const definition = definitionNamed(plan, need.eventName);
    if (definition) parts.push(meaningOf(definition[1]));
    for (const raw of rawNeeds(
      plan,
      need.eventName,
      need.properties.map((p) => p.name),
    )) {
      const event = eventNamed(plan, raw.eventName);
      if (!event) continue;
      parts.push([raw.eventName, meaningOf(event[1])]);
      const planned = plannedPropertiesOf(plan, event[0]);
      for (const ref of raw.properties) {
        const property = plannedAt(planned, ref)?.property;
        if (property) parts.push([refText(ref), meaningOf(property)]);
      }
    }
  }
  if (question.formula && countsPeople(question.formula)) parts.push(settingsOf(plan).identity);
  if (question.formula) parts.push(userPropertiesOf(question.formula).map((ref) => refText(ref)));
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
