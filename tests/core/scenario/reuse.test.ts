/** A second scenario takes over what does not differ: it is what one comes to that is worked out from nothing. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { readMessage, type Message } from '../../../src/core/arrival/message';
import { resolvePersons } from '../../../src/core/identity/persons';
import { personRulesOf } from '../../../src/core/identity/person-rules';
import { blank } from '../../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { emptyPlan, entries, settingsOf, type Plan } from '../../../src/core/plan/plan';
import { renameEvent } from '../../../src/core/plan/rename';
import { Watch } from '../../../src/core/plan/watch';
import { isRejudged, judgedTable, rejudged } from '../../../src/core/scenario/rejudged';
import { worked, type Scenario, type Worked } from '../../../src/core/scenario/side';
import { MessageTable } from '../../../src/core/table/message-table';
import type { Verdict } from '../../../src/core/table/row-verdicts';
import { projected } from '../../../src/core/table/projection';
import { FAULT_IDS } from '../../../src/demo/faults';
import { generate } from '../../../src/demo/generator';
import { publishedEdits } from '../../../src/demo/plan';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { draws } from '../../build/draws';

const NOW = Date.parse('2026-11-23T12:00:00Z');
const start = applyEdits(emptyPlan(DEFAULT_SETTINGS), publishedEdits.filter((e) => e.kind !== 'settings')); // prettier-ignore
if (!start.ok) throw new Error(JSON.stringify(start.problem));
const base: Plan = start.plan;
const sent = generate({ seed: 3, now: NOW, visitors: 90, faults: new Set(FAULT_IDS) });
const messages: { readonly message: Message; readonly sourceId: string; readonly receivedAt: number }[] = sent.flatMap((g) => {
  const read = readMessage(g.message);
  return read.ok ? [{ message: read.message, sourceId: g.sourceId, receivedAt: g.receivedAt }] : [];
});

const verdictsUnder = (plan: Plan, m: Message): readonly Verdict[] => compiled(plan).check(m) as readonly Verdict[];
const checkers = new WeakMap<Plan, ReturnType<typeof compileChecker>>();
const compiled = (plan: Plan): ReturnType<typeof compileChecker> => {
  let c = checkers.get(plan);
  if (!c) checkers.set(plan, (c = compileChecker(plan)));
  return c;
};
const tableUnder = (plan: Plan): MessageTable => {
  const table = new MessageTable();
  messages.forEach(({ message: m, sourceId, receivedAt }, i) =>
    table.append({ ...m, seq: i + 1, sourceId, receivedAt }, verdictsUnder(plan, m)),
  );
  return table;
};
const done = (s: Scenario): Worked => {
  const work = worked(s, NOW, []);
  for (let next = work.next(); ; next = work.next()) if (next.done) return next.value;
};
const scenario = (plan: Plan, seen: MessageTable, table: MessageTable): Scenario => ({
  plan,
  table,
  persons: resolvePersons(seen, personRulesOf(plan)),
  watch: Watch.of(plan, NOW - 57 * 86_400_000),
  number: 1,
  publishedAt: NOW,
});

const shared = tableUnder(base);
const set = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  return r.ok ? r.plan : plan;
};
type Change = (plan: Plan) => Plan;
const pick = <T>(list: readonly T[], n: number): T => list[n % list.length]!;
const changes: readonly ((n: number) => Change)[] = [
  (n) => (plan) => {
    const [id, p] = pick(entries(plan, 'property'), n);
    return set(plan, [
      { op: 'set', kind: 'property', id, field: 'type', before: p.type, after: p.type === 'string' ? 'integer' : 'string' },
    ]);
  },
  (n) => (plan) => {
    const [id, e] = pick(entries(plan, 'event'), n);
    return set(plan, renameEvent(plan, id, `${e.name} Anew`, n % 2 === 0));
  },
  (n) => (plan) => {
    const [, e] = pick(entries(plan, 'event'), n);
    const [qid, q] = pick(entries(plan, 'question').filter(([, x]) => JSON.stringify(x.formula).includes(`"${e.name}"`)).concat(entries(plan, 'question').slice(0, 1)), n); // prettier-ignore
    const name = `Narrow ${n}`;
    const body = blank('definition', { name, source: { of: 'events', names: [e.name] }, where: { match: 'any', conditions: [{ subject: { of: 'source' }, op: 'is', values: ['web'] }, { subject: { of: 'user property', name: 'skill_level' }, op: 'is', values: ['handy'] }], groups: [] } }); // prettier-ignore
    return set(plan, [
      { op: 'create', kind: 'definition', id: name, body },
      {
        op: 'set',
        kind: 'question',
        id: qid,
        field: 'formula',
        before: q.formula,
        after: JSON.parse(JSON.stringify(q.formula).replaceAll(`"${e.name}"`, `"${name}"`)) as never,
      },
    ]);
  },
  (n) => (plan) => {
    const s = settingsOf(plan);
    const identity = { ...s.identity, links: s.identity.links.slice(n % 3), maxUserIds: n % 2 };
    return set(plan, [{ op: 'set', kind: 'settings', id: 'settings', field: 'identity', before: s.identity, after: identity }]);
  },
  (n) => (plan) => {
    const [id, e] = pick(entries(plan, 'event'), n);
    return set(plan, [{ op: 'remove', kind: 'event', id, body: e }]);
  },
];

test('findings, persons, figures and signals of a second scenario are those of one that is worked out from nothing', () => {
  let differing = 0;
  const before = done(scenario(base, projected(shared, base), projected(shared, base)));
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat({ max: changes.length - 1 }), fc.nat({ max: 40 })), { minLength: 1, maxLength: 3 }), (chosen) => {
      const plan = chosen.reduce((p, [k, n]) => changes[k]!(n)(p), base);
      const r = rejudged(base, plan);
      const found = new Map<number, readonly Verdict[]>();
      messages.forEach(({ message: m }, i) => {
        if (!isRejudged(r, m.kind, m.name)) return;
        const own = verdictsUnder(plan, m);
        if (own.length > 0) found.set(i + 1, own);
      });
      const seen = projected(shared, plan);
      const reused = done(scenario(plan, seen, judgedTable(seen, plan, r, found)));
      const fresh = projected(tableUnder(plan), plan);
      const anew = done(scenario(plan, fresh, fresh));
      expect(reused).toEqual(anew);
      if (JSON.stringify(anew.groups) !== JSON.stringify(before.groups)) differing++;
    }),
    { seed: 31, numRuns: draws(9, 25) },
  );
  expect(differing).toBeGreaterThan(draws(3, 12));
});
