/** A cell of the plan: what it reads as text, written back, changes nothing; what cannot be is refused with a sentence. */
import { freeMark, NEW_SOURCE } from '../../../src/core/plan/source-mark';
import { sourceFields } from '../../../src/core/plan/fields/others';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { objectAction } from '../../../src/core/naming/object-action';
import { applyEdits } from '../../../src/core/plan/edit';
import { SHEETS } from '../../../src/core/plan/fields/index';
import { joinList, splitList } from '../../../src/core/plan/fields/list-text';
import { referencesTo, removalOf } from '../../../src/core/plan/references';
import type { Plan } from '../../../src/core/plan/plan';
import * as arbitrary from '../../build/arbitrary-plan';
import { create, event, planWith, property, question } from '../../build/plan';

const how = { newId: () => 'new', keepsFormer: () => true, now: 7, partsOf: objectAction };
const fieldOf = (sheet: string, key: string) => SHEETS.find((s) => s.id === sheet)!.fields.find((f) => f.key === key)!;
const write = (plan: Plan, sheet: string, key: string, id: string, text: string): Plan | string => {
  const edits = fieldOf(sheet, key).write!(plan, id, text, how);
  if (typeof edits === 'string') return edits;
  const r = applyEdits(plan, edits);
  return r.ok ? r.plan : 'stale';
};

test('every cell of every sheet, read and written back, changes nothing', () => {
  fc.assert(
    fc.property(arbitrary.plan, (plan) => {
      for (const sheet of SHEETS)
        for (const id of sheet.rows(plan))
          for (const f of sheet.fields)
            if (f.write) expect([sheet.id, f.key, f.write(plan, id, f.read(plan, id), how)]).toEqual([sheet.id, f.key, []]);
    }),
    { seed: 31, numRuns: 80 },
  );
});

test('a list as text and back', () => {
  fc.assert(
    fc.property(fc.array(fc.string()), (list) => {
      expect(splitList(joinList(list))).toEqual(list);
    }),
    { seed: 32, numRuns: 500 },
  );
});

describe('refusals say what is wrong', () => {
  const plan = planWith([
    create('source', 'w', { name: 'Web' }),
    property('p', { name: 'branch' }),
    event('e', { name: 'Tool Viewed', sources: [{ sourceId: 'w', required: true, build: 'seen' }] }),
    create('userProperty', 'u', { name: 'tier', registered: true }),
    create('userProperty', 't', { name: 'pilot', temporary: true }),
  ]);
  test.each([
    ['event', 'name', 'e', ' ', 'Enter a name for the event.'],
    ['event', 'sources', 'e', 'Kiosk', '“Kiosk” is not a source of this plan.'],
    ['event', 'properties', 'e', 'branch, brunch', '“brunch” is not a property of this plan.'],
    [
      'event',
      'triggerKind',
      'e',
      'sometimes',
      '“sometimes” is not a kind of trigger; choose completed, attempted, viewed, milestone, state changed.',
    ],
    ['event', 'counterpart', 'e', 'by chance', 'Write it as: Reservation Confirmed by request_id within 10 s'],
    ['property', 'min', 'p', 'low', '“low” is not a number.'],
    ['property', 'distinct', 'p', '2.5', '“2.5” is not a whole number.'],
    ['userProperty', 'registered', 'u', 'no', 'A registered user property stays registered: retire it instead.'],
    ['userProperty', 'registered', 't', 'yes', 'It is marked temporary, and a temporary one is never registered.'],
    ['naming', 'value', 'synonyms', 'borrow', '“borrow” is not understood; write borrow = rent, lease'],
    ['workspace', 'value', 'timeZone', 'Atlantis', '“Atlantis” is not a time zone; write one such as Europe/London.'],
    ['workspace', 'value', 'tooEarlyHours', 'soon', '“soon” is not a number of hours from 0 to 8,784.'],
    ['workspace', 'value', 'currency', 'euro', '“euro” is not a currency; write three letters such as EUR.'],
    ['workspace', 'asOf', 'tooEarlyHours', '2026-02-30', '“2026-02-30” is not a day; write one such as 2026-03-01.'],
    ['workspace', 'asOf', 'tooEarlyHours', '2026-13-45', '“2026-13-45” is not a day; write one such as 2026-03-01.'],
    [
      'arrival-checks',
      'parameters',
      'double-fire',
      'soon 2',
      '“soon 2” is not understood; write a number behind within, min, share, with ; between them.',
    ],
    ['arrival-checks', 'parameters', 'double-fire', 'within 0', '“within 0”: within is a number from 0.01 to 3,600 s.'],
    ['arrival-checks', 'parameters', 'double-fire', 'min 4.5', '“min 4.5”: min is a whole number from 1 to 1,000,000 messages.'],
    ['arrival-checks', 'parameters', 'double-fire', 'within 2 h', '“within 2 h”: within is in s.'],
    ['arrival-checks', 'parameters', 'unknown-event', 'min 3', 'This check has nothing to set.'],
  ])('%s %s', (sheet, key, id, text, says) => expect(write(plan, sheet, key, id, text)).toBe(says));
  test('seen is set by what arrives: it is kept where it stands, and refused where it does not', () => {
    expect(write(plan, 'event', 'sources', 'e', 'Web (optional)')).toMatchObject({
      event: { e: { sources: [{ build: 'seen', required: false }] } },
    });
    const fresh = planWith([create('source', 'w', { name: 'Web' }), event('e', { name: 'X' })]);
    expect(write(fresh, 'event', 'sources', 'e', 'Web (seen)')).toContain('set by what arrives');
  });
});

test('settings of the workspace, and who says so; numbers of a check: only what differs from the check’s own is kept', () => {
  let plan = planWith([]);
  const put = (sheet: string, key: string, id: string, text: string): void => {
    const next = write(plan, sheet, key, id, text);
    if (typeof next === 'string') throw new Error(next);
    plan = next;
  };
  const settings = () => plan.settings['settings']!;
  put('workspace', 'value', 'weekStartsOn', 'sunday');
  put('workspace', 'value', 'currency', 'jpy');
  put('workspace', 'value', 'escalationHours', '96');
  put('workspace', 'source', 'escalationHours', 'Handbook of the warehouse');
  put('workspace', 'asOf', 'escalationHours', '2026-03-01');
  expect(settings()).toMatchObject({
    weekStartsOn: 7,
    currency: 'JPY',
    escalationHours: 96,
    provenance: { escalationHours: { source: 'Handbook of the warehouse', asOf: '2026-03-01' } },
  });
  expect(fieldOf('workspace', 'source').read(plan, 'settlingHours')).toBe('common practice');
  put('workspace', 'source', 'escalationHours', 'common practice');
  put('workspace', 'asOf', 'escalationHours', '');
  expect(settings().provenance).toEqual({});
  put('arrival-checks', 'parameters', 'double-fire', 'within = 3 s; min 3 messages');
  expect(settings().rules['double-fire']).toEqual({ parameters: { within: 3 } });
  expect(fieldOf('arrival-checks', 'parameters').read(plan, 'double-fire')).toBe('within 3 s; min 3 messages; share 0.2 %');
  put('arrival-checks', 'severity', 'double-fire', 'note');
  put('arrival-checks', 'parameters', 'double-fire', '');
  expect(settings().rules['double-fire']).toEqual({ severity: 'note' });
});

test('no check of the plan has the id of a check of what arrives, since both are set in one place', () => {
  const ids = (sheet: string) => SHEETS.find((s) => s.id === sheet)!.rows(planWith([]));
  const both = [...ids('rules'), ...ids('arrival-checks')];
  expect(new Set(both).size).toBe(both.length);
});

test('a registered user property keeps its name: a rename is a new one beside it, and the old one is retired', () => {
  const plan = planWith([create('userProperty', 'u', { name: 'tier', registered: true, registeredAt: 1 })]);
  expect(write(plan, 'userProperty', 'name', 'u', 'membership_tier')).toMatchObject({
    userProperty: {
      u: { name: 'tier', retired: true, registered: true },
      new: { name: 'membership_tier', registered: false, formerNames: ['tier'] },
    },
  });
  const free = planWith([create('userProperty', 'u', { name: 'tier' })]);
  expect(write(free, 'userProperty', 'name', 'u', 'membership_tier')).toMatchObject({ userProperty: { u: { name: 'membership_tier' } } });
});

test('the limit refuses the next registration, and registering notes when', () => {
  const many = planWith(Array.from({ length: 25 }, (_, i) => create('userProperty', `u${i}`, { name: `u${i}`, registered: i < 24 })));
  const full = write(many, 'userProperty', 'registered', 'u24', 'yes');
  expect(full).toMatchObject({ userProperty: { u24: { registered: true, registeredAt: 7 } } });
  const one = applyEdits(full as Plan, [create('userProperty', 'more', { name: 'more' })]);
  expect(one.ok && write(one.plan, 'userProperty', 'registered', 'more', 'yes')).toContain('the limits profile allows 25');
});

test('a rename goes along everywhere it is named, and keeps the former name', () => {
  const plan = planWith([
    property('p', { name: 'days' }),
    event('e', {
      name: 'Loan Started',
      properties: [{ propertyId: 'p', required: true }],
      counterpart: { eventName: 'Loan Stored', keyProperty: 'days', windowMs: 1 },
    }),
    event('s', { name: 'Loan Stored' }),
    question('q', {
      formula: {
        type: 'total of a property',
        event: { eventName: 'Loan Started', where: [{ property: 'days', is: 3 }] },
        property: 'days',
        period: 'week',
        filters: [{ mode: 'leaving out', who: 'persons', did: { eventName: 'Loan Stored', where: [] } }],
      },
    }),
  ]);
  const renamed = write(write(plan, 'property', 'name', 'p', 'loan_days') as Plan, 'event', 'name', 's', 'Loan Kept');
  expect(renamed).toMatchObject({
    property: { p: { name: 'loan_days', formerNames: ['days'] } },
    event: { e: { counterpart: { eventName: 'Loan Kept', keyProperty: 'loan_days' } }, s: { formerNames: ['Loan Stored'] } },
    question: {
      q: {
        formula: { property: 'loan_days', event: { where: [{ property: 'loan_days' }] }, filters: [{ did: { eventName: 'Loan Kept' } }] },
      },
    },
  });
});

test('removing takes an entity out of all that refers to it, and nothing refers to it then', () => {
  fc.assert(
    fc.property(arbitrary.plan, (plan) => {
      for (const kind of ['property', 'source', 'event'] as const)
        for (const id of Object.keys(plan[kind])) {
          const r = applyEdits(plan, removalOf(plan, kind, id));
          if (!r.ok) throw new Error(JSON.stringify(r.problem));
          expect(r.plan[kind][id]).toBeUndefined();
          const others = Object.values(r.plan.event).flatMap((e) => [
            ...e.properties.map((p) => p.propertyId),
            ...e.sources.map((s) => s.sourceId),
          ]);
          expect(others).not.toContain(kind === 'event' ? undefined : id);
          if (kind === 'property')
            expect(referencesTo(plan, kind, id).filter((x) => x.kind === 'event')).toHaveLength(
              Object.values(plan.event).filter((e) => e.properties.some((p) => p.propertyId === id)).length,
            );
        }
    }),
    { seed: 33, numRuns: 40 },
  );
});

describe('sources', () => {
  const fieldOf = (key: string) => sourceFields.find((f) => f.key === key)!;
  const plan = planWith([
    create('source', 'web', { name: 'Web', kind: 'web', mark: 'W' }),
    create('source', 'n', { name: NEW_SOURCE, kind: 'web', mark: 'N' }),
    create('identifierKind', 'anonymous', { name: 'anonymous', identifies: 'visit' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
  ]);
  const after = (key: string, id: string, text: string, p: Plan = plan) => {
    const written = fieldOf(key).write!(p, id, text, how);
    if (typeof written === 'string') return written;
    const r = applyEdits(p, written);
    if (!r.ok) throw new Error('no fit');
    return r.plan.source[id]!;
  };
  test('each gets its own mark with its first name: a letter of it that nobody has', () => {
    expect(after('name', 'n', 'Kiosk')).toMatchObject({ name: 'Kiosk', mark: 'K' });
    expect(after('name', 'n', 'Works hall')).toMatchObject({ mark: 'O' });
    expect(after('name', 'n', 'W')).toMatchObject({ mark: 'A' });
    // One that has a name keeps its mark.
    expect(after('name', 'web', 'Kiosk')).toMatchObject({ name: 'Kiosk', mark: 'W' });
    expect(after('mark', 'n', 'w')).toBe('W is the mark of Web; sources are told apart by it.');
    expect(after('mark', 'web', 'w')).toMatchObject({ mark: 'W' });
  });
  test('however many there are, a mark is free or says that none is', () => {
    let p = planWith([]);
    for (let i = 0; i < 36; i++) {
      const mark = freeMark(p, `Web ${i}`);
      expect(Object.values(p.source).some((s) => s.mark === mark)).toBe(false);
      const r = applyEdits(p, [create('source', `s${i}`, { name: `Web ${i}`, mark })]);
      if (!r.ok) throw new Error('no fit');
      p = r.plan;
    }
    expect(freeMark(p, 'Web')).toBe('?');
  });
  test('carry planned identifier kinds alone, but for what is there already', () => {
    expect(after('beforeSignIn', 'web', 'anonymous, device')).toBe(
      '“device” is no identifier kind of the plan; it has anonymous, user. Add the kind first.',
    );
    expect(after('afterSignIn', 'web', 'user')).toMatchObject({ idKinds: { afterSignIn: ['user'] } });
    const old = planWith([create('source', 'web', { name: 'Web', idKinds: { beforeSignIn: ['gone'], afterSignIn: [] } })]);
    expect(after('beforeSignIn', 'web', 'gone', old)).toMatchObject({ idKinds: { beforeSignIn: ['gone'] } });
  });
  test('that are servers begin with no identifier before sign-in; what somebody wrote stays', () => {
    expect(after('kind', 'n', 'server')).toMatchObject({
      kind: 'server',
      idKinds: { beforeSignIn: [], afterSignIn: ['anonymous', 'user'] },
    });
    expect(after('kind', 'n', 'kiosk')).toMatchObject({ idKinds: { beforeSignIn: ['anonymous'] } });
    const own = planWith([create('source', 'n', { name: 'Desk', idKinds: { beforeSignIn: ['device'], afterSignIn: [] } })]);
    expect(after('kind', 'n', 'server', own)).toMatchObject({ idKinds: { beforeSignIn: ['device'] } });
  });
});
