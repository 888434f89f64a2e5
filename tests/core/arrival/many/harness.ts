/** A plan, messages written short, and one check over many run on them. */
import { manyChecks } from '../../../../src/core/arrival/many/index';
import { foundBy, type ManyCheck, type ManyFound } from '../../../../src/core/arrival/check-many';
import { valuesOf } from '../../../../src/core/arrival/check';
import type { ManySaid } from '../../../../src/core/arrival/message-finding';
import { findingSentence } from '../../../../src/core/arrival/words';
import { resolvePersons } from '../../../../src/core/identity/persons';
import { settingsOf, type Plan } from '../../../../src/core/plan/plan';
import { Watch } from '../../../../src/core/plan/watch';
import type { MessageTable } from '../../../../src/core/table/message-table';
import { create, deepFreeze, event, planWith, property } from '../../../build/plan';
import { RULES, tableOf } from '../../../build/messages';

export const DAY = 1440;
export const MINUTE_MS = 60_000;
export type Row = Parameters<typeof tableOf>[0][number];

export const sentBy = (...sources: string[]) => sources.map((sourceId) => ({ sourceId, required: true, build: 'built' as const }));
export const required = (...ids: string[]) => ids.map((propertyId) => ({ propertyId, required: true }));
export const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web', expectedLagMs: 60_000 }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      create('identifierKind', 'device', { name: 'device', identifies: 'device' }),
      property('weight', { type: 'number', unit: 'kg' }),
      property('share', { type: 'integer' }),
      property('crate', { distinct: 3 }),
      event('e', { name: 'E', sources: sentBy('s'), properties: required('weight', 'crate') }),
      event('once', { name: 'Opened', sources: sentBy('s'), oncePer: 'session' }),
      event('read', {
        name: 'Read',
        sources: sentBy('s'),
        series: { property: 'share', values: ['25', '50', '100'] },
        scope: '/guides',
        properties: required('share'),
      }),
    ],
    { timeZone: 'UTC' },
  ),
);

export const run = (
  code: string,
  rows: readonly Row[],
  nowMinutes: number,
  of: Plan = plan,
  watchedSince = 0,
): readonly ManyFound<unknown>[] => {
  const table: MessageTable = tableOf(rows);
  const check = manyChecks.find((c) => c.id === code) as ManyCheck<string, unknown> | undefined;
  if (!check) throw new Error(`no check ${code}`);
  const people = resolvePersons(table, RULES);
  const c = { plan: of, people, now: nowMinutes * MINUTE_MS, watch: Watch.of(of, watchedSince * MINUTE_MS) };
  return foundBy(check, c, valuesOf(check.parameters, settingsOf(of).rules[code]));
};
export const says = (code: string, found: readonly ManyFound<unknown>[]): string[] =>
  found.map((f) => findingSentence({ code, params: f.params } as ManySaid, f.eventName));
export const user = (n: number) => ({ user: `m-${n}` });
