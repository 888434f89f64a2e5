/** Which findings lower a gate of a question: those of what the gate looks at, on events that the figure counts, in the days that it looks at. */
import type { Said } from '../arrival/message-finding';
import type { FindingGroup } from '../arrival/finding-group';
import { whoFixes } from '../arrival/who-fixes';
import { sourcesOf } from '../arrival/seen';
import { rawNeeds } from '../definitions/planned';
import type { Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { Need } from '../questions/coverage';
import type { MessageTable } from '../table/message-table';
import type { Days } from './reach';

export type LoweredGate = 'built' | 'conforming' | 'identified' | 'complete' | 'fresh';

/** Every check, by the gate that it speaks of; `undefined` where no figure is wrong by it. */
export const GATE_OF: Readonly<Record<Said['code'], LoweredGate | undefined>> = {
  'unknown-event': 'conforming',
  'former-name': undefined,
  'property-missing': 'conforming',
  'wrong-type': 'conforming',
  'value-not-allowed': 'conforming',
  'out-of-range': 'conforming',
  'pattern-mismatch': 'conforming',
  'placeholder-value': 'conforming',
  'empty-value': 'conforming',
  'unplanned-property': undefined,
  'personal-data': undefined,
  'no-identifier': 'identified',
  'malformed-identifier': 'identified',
  'identifier-as-property': 'identified',
  'personal-identifier': undefined,
  'unplanned-identifier': 'identified',
  'swapped-user-property': 'conforming',
  'unplanned-user-property': undefined,
  'premature-trigger': 'conforming',
  'out-of-scope': 'conforming',
  'unit-suspicion': 'conforming',
  milestones: 'conforming',
  repeated: 'conforming',
  'definition-dropped': 'conforming',
  'too-many-values': undefined,
  'no-user-id': 'identified',
  'user-id-dropped': 'identified',
  'users-never-linked': 'identified',
  'over-common-id': 'identified',
  'shared-device': 'identified',
  'never-seen': 'built',
  parity: 'complete',
  silence: 'complete',
  'volume-change': 'complete',
  'double-fire': 'complete',
  'sent-again': 'complete',
  'id-reused': 'complete',
  'id-elsewhere': 'complete',
  'turned-away': 'complete',
  'too-old': 'complete',
  'from-sample': 'complete',
  'lost-before': 'complete',
  'late-arrival': 'fresh',
  'clock-ahead': 'fresh',
  'clock-behind': 'fresh',
  'implausible-time': 'fresh',
};

export interface Affected {
  /** Names of all events that the figure counts: those of its formula, and those that they are made of. */
  readonly names: ReadonlySet<string>;
  /** Sources that sent any of them. */
  readonly sources: ReadonlySet<string>;
}

export const affectedBy = (plan: Plan, table: MessageTable, needs: readonly Need[]): Affected => {
  const names = new Set<string>();
  for (const n of needs) {
    names.add(n.eventName);
    for (const raw of rawNeeds(plan, n.eventName)) names.add(raw.eventName);
  }
  const sources = new Set<string>();
  for (const name of names) {
    for (const s of sourcesOf(table, name).keys()) sources.add(s);
    for (const s of eventNamed(plan, name)?.[1].sources ?? []) if (s.required) sources.add(s.sourceId);
  }
  return { names, sources };
};

/** The findings that lower a gate, gravest first as they are given. What was last seen before the days of the figure is over for it; what counts no
 *  messages speaks until it is gone.
 */
export const lowering = (
  groups: readonly FindingGroup[],
  gate: LoweredGate,
  { names, sources }: Affected,
  { from }: Days,
): FindingGroup[] =>
  groups.filter(
    (g) =>
      (GATE_OF as Readonly<Record<string, LoweredGate | undefined>>)[g.code] === gate &&
      g.severity !== 'note' &&
      (g.count === 0 || g.lastAt >= from) &&
      (g.eventName === ''
        ? g.touches.some((n) => names.has(n)) || (g.touches.length === 0 && sources.has(g.sourceId))
        : g.touches.some((n) => names.has(n))),
  );

export interface Raise {
  /** Whose work it is, and what is to be done; names in back quotes. */
  readonly who: string;
  readonly text: string;
}

/** What would raise a gate that findings lower: each fix once. */
export const raising = (plan: Plan, groups: readonly FindingGroup[]): Raise[] => {
  const seen = new Set<string>();
  return groups.flatMap((g) => {
    const raise = { who: whoFixes(plan, g), text: g.fix };
    const key = JSON.stringify(raise);
    if (seen.has(key)) return [];
    seen.add(key);
    return [raise];
  });
};
