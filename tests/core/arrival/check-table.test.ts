/** Each check on a message, by a table: the nearest value that it finds and the nearest that it lets pass, with the place, the words and what is expected. */
import { groupFindings } from '../../../src/core/arrival/finding-group';
import { MessageTable } from '../../../src/core/table/message-table';
import { readMessage } from '../../../src/core/arrival/message';
import { describe, expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { messageChecks, valueChecks } from '../../../src/core/arrival/checks/index';
import { findingSentence, wordsFor } from '../../../src/core/arrival/words';
import { create, deepFreeze, event, planWith, property } from '../../build/plan';

const plan = deepFreeze(
  planWith([
    create('source', 's', { name: 'Hall', kind: 'web', automaticProperties: ['screen'] }),
    create('identifierKind', 'user', { name: 'user', pattern: '^m-\\d+$', sample: 'm-777', identifies: 'person' }),
    create('userProperty', 'hall', { name: 'home_hall', allowed: ['North', 'South'] }),
    property('tool', { pattern: 'T-\\d{4}' }),
    property('mail', { format: 'e-mail', personalData: 'personal' }),
    property('both', { pattern: '^a', format: 'UUID' }),
    property('days', { type: 'integer', min: 1, max: 28 }),
    property('weight', { type: 'number', min: 0.5 }),
    property('branch', { allowed: ['Quayside', 'Millrace'] }),
    property('lent', { type: 'boolean' }),
    property('at', { type: 'timestamp' }),
    property('list', { type: 'list of string' }),
    property('note', {}),
    event('e', {
      name: 'Tool Lent',
      formerNames: ['Tool Given'],
      properties: ['tool', 'mail', 'both', 'days', 'weight', 'branch', 'lent', 'at', 'list', 'note'].map((propertyId) => ({ propertyId, required: propertyId === 'tool' })), // prettier-ignore
    }),
  ]),
);
const checker = compileChecker(plan);
const GOOD = { tool: 'T-0412' };
interface Sent {
  readonly name?: string;
  readonly ids?: Record<string, string>;
  readonly properties?: Record<string, unknown>;
  readonly userProperties?: Record<string, unknown>;
  readonly sampleRate?: number;
  readonly lostBefore?: number;
}
const found = ({ name = 'Tool Lent', ids = { user: 'm-1' }, properties = {}, userProperties = {}, ...said }: Sent, isWhole = false) =>
  checker.check({ kind: 'event', name, ids, properties: isWhole ? properties : { ...GOOD, ...properties }, userProperties, ...said });
const codes = (sent: Sent): string[] => found(sent).map((f) => f.code);
const p = (properties: Record<string, unknown>): Sent => ({ properties });

describe('passes', () => {
  test.each<[string, Sent]>([
    ['the pattern', p({ tool: 'T-0000' })],
    ['the format', p({ mail: 'jo@example.org' })],
    ['pattern and format', p({ both: 'a987fbc9-4bed-4078-af07-9141ba07c9f3' })],
    ['the least', p({ days: 1, weight: 0.5 })],
    ['the greatest', p({ days: 28, weight: 1e9 })],
    ['a value of the list', p({ branch: 'Millrace' })],
    ['both truth values', p({ lent: false })],
    ['a time with its zone', p({ at: '2026-03-01T09:30:00+01:00' })],
    ['an empty list', p({ list: [] })],
    ['an automatic property', p({ screen: 'gate' })],
    ['user property of its list', { userProperties: { home_hall: 'South' } }],
  ])('%s', (_, sent) => expect(codes(sent)).toEqual([]));
});

const TABLE: readonly (readonly [code: string, Sent, path: string, sentence: string])[] = [
  ['pattern-mismatch', p({ tool: 'T-041' }), 'properties.tool', '`Tool Lent` came with `tool` = "T-041", which is not of the pattern T-\\d{4}.'],
  ['pattern-mismatch', p({ mail: 'jo@' }), 'properties.mail', '`Tool Lent` came with `mail` = "jo@", which is not of the format e-mail.'],
  ['pattern-mismatch', p({ both: 'b987fbc9-4bed-4078-af07-9141ba07c9f3' }), 'properties.both', '`Tool Lent` came with `both` = "b987fbc9-4bed-4078-af07-9141ba07c9f3", which is not of the pattern ^a.'],
  ['pattern-mismatch', p({ both: 'abc' }), 'properties.both', '`Tool Lent` came with `both` = "abc", which is not of the format UUID.'],
  ['out-of-range', p({ days: 0 }), 'properties.days', ''],
  ['out-of-range', p({ days: 29 }), 'properties.days', ''],
  ['out-of-range', p({ weight: 0.49 }), 'properties.weight', ''],
  ['value-not-allowed', p({ branch: 'millrace' }), 'properties.branch', ''],
  ['value-not-allowed', { userProperties: { home_hall: 'East' } }, 'user_properties.home_hall', ''],
  ['wrong-type', p({ days: 1.5 }), 'properties.days', ''],
  ['wrong-type', p({ days: '3' }), 'properties.days', ''],
  ['wrong-type', p({ lent: 'true' }), 'properties.lent', ''],
  ['wrong-type', p({ at: '2026-03-01' }), 'properties.at', ''],
  ['wrong-type', p({ note: 5 }), 'properties.note', ''],
  ['wrong-type', p({ note: null }), 'properties.note', ''],
  ['wrong-type', p({ list: 'a' }), 'properties.list', ''],
  ['empty-value', p({ note: '' }), 'properties.note', '`Tool Lent` came with empty text in `note`.'],
  ['placeholder-value', p({ note: '{{note}}' }), 'properties.note', ''],
  ['personal-data', p({ note: 'call jo@example.org' }), 'properties.note', '`Tool Lent` came with an e-mail address in `note`.'],
  ['unplanned-property', p({ tools: 'x' }), 'properties.tools', ''],
  ['identifier-as-property', { ids: {}, properties: { user_id: 'm-1' } }, 'properties.user_id', ''],
  ['unknown-event', { name: 'tool lent' }, 'name', ''],
  ['former-name', { name: 'Tool Given' }, 'name', ''],
  ['no-identifier', { ids: {} }, 'ids', '`Tool Lent` came without any identifier (user).'],
  ['malformed-identifier', { ids: { user: 'x-1' } }, 'ids.user', '`Tool Lent` came with "x-1" as its user ID, which is not of the pattern ^m-\\d+$.'],
  ['unplanned-identifier', { ids: { user: 'm-1', guest: 'g' } }, 'ids.guest', ''],
  ['unplanned-user-property', { userProperties: { homehall: 'North' } }, 'user_properties.homehall', ''],
  ['from-sample', { sampleRate: 0.1 }, 'sample_rate', '`Tool Lent` was sent from a sample: 10 % of devices send it.'],
  ['lost-before', { lostBefore: 1 }, 'dropped_before', '`Tool Lent` says that 1 message before it was let go on the device.'],
  ['lost-before', { lostBefore: 1200 }, 'dropped_before', '`Tool Lent` says that 1,200 messages before it were let go on the device.'],
  ['swapped-user-property', { userProperties: { South: 'home_hall' } }, 'user_properties.home_hall', ''],
]; // prettier-ignore

describe('is found', () => {
  test.each(TABLE)('%s: %j', (code, sent, path, sentence) => {
    const of = found(sent).filter((f) => f.code === code);
    expect(of.map((f) => f.path.join('.'))).toEqual([path]);
    const [f] = of;
    if (sentence !== '') expect(findingSentence(f!, sent.name ?? 'Tool Lent')).toBe(sentence);
    // Whatever is found says what was expected, what came, why, and what to do.
    const words = wordsFor(f!)!;
    for (const part of ['cause', 'fix', 'expected', 'received'] as const) expect([code, part, words[part].trim().length > 0]).toEqual([code, part, true]); // prettier-ignore
  });

  test('a required property that is missing, and that alone', () => {
    expect(found({ properties: {} }, true).map((f) => [f.code, f.path.join('.')])).toEqual([['property-missing', 'properties.tool']]);
  });

  test('a value that is shown is cut, whatever its length', () => {
    const [f] = found(p({ tool: 'x'.repeat(5000) }));
    expect(JSON.stringify(f!.params).length).toBeLessThan(400);
  });
});

test('what a sender says of all that it does not send is read out of the message; what is no share and no number says nothing', () => {
  const said = (fields: object): unknown[] => {
    const read = readMessage({ id: 'm', name: 'Tool Lent', time: '2026-03-01T09:30:00Z', ...fields });
    return read.ok ? [read.message.sampleRate, read.message.lostBefore] : [read.rejected.reason];
  };
  expect(said({ sample_rate: 0.25, dropped_before: 3 })).toEqual([0.25, 3]);
  for (const odd of [0, 1, 10, -0.5, NaN, '0.5', null, {}]) expect(said({ sample_rate: odd })).toEqual([undefined, undefined]);
  for (const odd of [0, -1, 1.5, Infinity, '3', null, []]) expect(said({ dropped_before: odd })).toEqual([undefined, undefined]);
});

test('a sample says how many messages it leaves out, each share by itself; what else is found leaves out none', () => {
  const table = new MessageTable();
  const rates = [0.1, 0.1, 0.1, 0.5, undefined];
  rates.forEach((sampleRate, i) => {
    const verdicts = found({ ...(sampleRate === undefined ? { properties: { note: '' } } : { sampleRate }) });
    table.append({ seq: i + 1, kind: 'event', name: 'Tool Lent', sourceId: 'web', release: '1', occurredAt: i, receivedAt: i, page: '', ids: { user: 'm-1' }, properties: {}, userProperties: {} }, verdicts); // prettier-ignore
  });
  const groups = groupFindings(table, [], 10).map((g) => [g.code, g.count, g.missing === undefined ? undefined : Math.round(g.missing)]);
  expect(groups.sort((a, b) => String(a).localeCompare(String(b)))).toEqual([['empty-value', 1, undefined], ['from-sample', 1, 1], ['from-sample', 3, 27]]); // prettier-ignore
});

test('every check of a message is in the table, or named here with where it is tested', () => {
  const elsewhere = ['property-missing', 'personal-identifier'];
  expect([...new Set([...TABLE.map(([code]) => code as string), ...elsewhere])].sort()).toEqual(
    [...messageChecks, ...valueChecks].map((c) => c.id as string).sort(),
  );
});
