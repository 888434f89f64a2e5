/** The build check as builds run it: the built file, a process of its own, exit codes, and bad input. */
import { readFileSync, writeFileSync, createWriteStream } from 'node:fs';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import harSchema from 'har-schema';
import Ajv from 'ajv';
import addFormats from 'ajv-formats';
import { beforeAll, describe, expect, it, test } from 'vitest';
import { compileChecker } from '../../src/core/arrival/compile';
import { readMessage } from '../../src/core/arrival/message';
import { exampleCloudEvent } from '../../src/core/formats/plan/cloudevents';
import { exampleMessage, sentEvents } from '../../src/core/formats/message-schema';
import { contentHash } from '../../src/core/plan/content-hash';
import { readPlanDocument } from '../../src/core/formats/plan-document';
import type { Plan } from '../../src/core/plan/plan';
import { setField } from '../../src/core/plan/edit';
import { applyEdits } from '../../src/core/plan/edit';
import { demoPlan } from '../build/demo-plan';
import { built, documentOf, folderWith, runIn, type Ran } from './program';

let program = '';
beforeAll(() => {
  program = built();
});
const plan = demoPlan();
const events = sentEvents(plan).map(([, e]) => e);
const ids = { anonymous: 'a-1f2e3d', user: 'm-10442' };
let made = 0;
const good = (name: string, more: object = {}) => ({
  ...exampleMessage(
    plan,
    events.find((e) => e.name === name)!,
  ),
  id: `id-${++made}`,
  ids,
  time: new Date(Date.UTC(2026, 2, 1, 9, 0, made)).toISOString(),
  ...more,
});
const misspelt = () => good('Tool Viewed', { name: 'Tool viewed' });
const lines = (list: readonly object[]): string => list.map((v) => JSON.stringify(v)).join('\n');
const check = (files: { readonly [path: string]: string }, args: readonly string[], input?: string): Ran & { at: string } => {
  const at = folderWith({ 'plan.json': documentOf(plan), ...files });
  return { ...runIn(program, at, args, input), at };
};
interface Told {
  readonly results: readonly {
    code: string;
    severity: string;
    subject: string;
    sentence: string;
    count?: number;
    places: readonly { file: string; line?: number }[];
  }[];
  readonly facts: readonly string[];
}
const told = (r: Ran): Told => JSON.parse(r.out) as Told;
const codes = (r: Ran): string[] => told(r).results.map((x) => x.code);

describe('events', () => {
  const har = (bodies: readonly string[]) => ({
    log: {
      version: '1.2',
      creator: { name: 'test', version: '1' },
      pages: [],
      entries: bodies.map((text, i) => ({
        startedDateTime: new Date(Date.UTC(2026, 2, 1, 10, 0, i)).toISOString(),
        time: 5,
        request: {
          method: 'POST',
          url: i % 2 === 0 ? 'https://post.example.org/intake' : 'https://elsewhere.example.org/collect',
          httpVersion: 'HTTP/1.1',
          cookies: [],
          headers: [],
          queryString: [],
          postData: { mimeType: 'application/json', params: [], text },
          headersSize: -1,
          bodySize: text.length,
        },
        response: {
          status: 200,
          statusText: 'OK',
          httpVersion: 'HTTP/1.1',
          cookies: [],
          headers: [],
          content: { size: 0, mimeType: '' },
          redirectURL: '',
          headersSize: -1,
          bodySize: 0,
        },
        cache: {},
        timings: { send: 1, wait: 3, receive: 1 },
      })),
    },
  });

  it.each<[string, string, string]>([
    ['NDJSON', 'm.ndjson', lines([good('Signed In'), misspelt()])],
    ['a JSON array', 'm.json', JSON.stringify([good('Signed In'), misspelt()], null, 2)],
    ['what a sender sends when its page goes', 'm.json', JSON.stringify({ key: 'k', messages: [good('Signed In'), misspelt()] }, null, 2)],
    [
      'CloudEvents, one a line',
      'm.ndjson',
      lines(
        ['Signed In', 'Tool Viewed'].map((n) => ({
          ...exampleCloudEvent(
            plan,
            events.find((e) => e.name === n)!,
          ),
          id: `ce-${n}`,
          userid: 'm-10442',
          type: n === 'Tool Viewed' ? 'Tool viewed' : n,
        })),
      ),
    ],
    [
      'a HAR file, of which other addresses are left out',
      'run.har',
      JSON.stringify(har([JSON.stringify([good('Signed In')]), '{"other": true}', JSON.stringify({ key: 'k', messages: [misspelt()] })])),
    ],
    ['with a byte order mark and blank lines', 'm.ndjson', `\ufeff\n${lines([good('Signed In')])}\n\n${lines([misspelt()])}\n`],
  ])('%s: finds the one message that is wrong', (_, name, text) => {
    const r = check({ [name]: text }, ['events', 'plan.json', name, '--source', 'web', '-o', 'json']);
    expect([r.code, codes(r), r.err]).toEqual([1, ['unknown-event'], '']);
    expect(told(r).facts[0]).toMatch(/^2 messages read, 2 counted, 0 duplicates, 0 not readable/);
  });

  it('the HAR file of these tests is one by the published schema', () => {
    const ajv = new Ajv({ strict: false, logger: false });
    addFormats(ajv);
    for (const schema of Object.values(harSchema)) ajv.addSchema({ ...schema, $schema: undefined } as object);
    expect(ajv.validate('har.json', har(['{}', '{}']))).toBe(true);
    expect(ajv.validate('har.json', { log: { version: '1.2' } })).toBe(false);
  });

  it('reads standard input, and says the line of what is wrong', () => {
    const r = check(
      {},
      ['events', 'plan.json', '-', '--source', 'web', '-o', 'json'],
      `${lines([good('Signed In'), misspelt()])}\nno json\n`,
    );
    expect(told(r).results.map((x) => [x.code, x.places[0]])).toEqual([
      ['not-readable', { file: '-', line: 3 }],
      ['unknown-event', { file: '-', line: 2 }],
    ]);
  });

  it('exit codes: by what is found and by --fail-on', () => {
    const text = { 'm.ndjson': lines([good('Signed In')]), 'bad.ndjson': lines([misspelt()]) };
    const run = (...args: string[]): number | null => check(text, ['events', 'plan.json', ...args, '--source', 'web']).code;
    expect(run('m.ndjson')).toBe(0);
    expect(run('bad.ndjson')).toBe(1);
    expect(run('bad.ndjson', '--fail-on', 'never')).toBe(0);
    expect(run('bad.ndjson', '--fail-on', 'grave')).toBe(2);
    expect(run('nowhere.ndjson')).toBe(3);
    expect(check(text, ['events', 'plan.json', 'm.ndjson', '--source', 'nobody'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('web (Web catalogue)') as string,
    });
    expect(check(text, ['guess']).code).toBe(2);
    expect(check(text, ['--help']).code).toBe(0);
  });

  it('every check of a message says what the core says, on messages with faults', () => {
    const faulty = [
      good('Tool Viewed', { properties: { tool_id: 412 } }),
      good('Signed In', { properties: { sign_in_method: 'carrier pigeon' } }),
      good('Loan Started', { properties: { tool_id: 'T-1', branch: 'Quayside', loan_days: 300 } }),
      good('Loan Started', { properties: { tool_id: '{{tool_id}}', branch: 'Quayside', loan_days: 3 } }),
      good('Signed In', { ids: { user: 'x@example.org' } }),
      good('Signed In', { user_properties: { Quayside: 'home_branch' } }),
    ];
    const checker = compileChecker(plan);
    const expected = new Map<string, number>();
    for (const m of faulty) {
      const read = readMessage(m);
      if (read.ok) for (const f of checker.check(read.message)) expected.set(f.code, (expected.get(f.code) ?? 0) + 1);
    }
    expect(expected.size).toBeGreaterThan(4);
    const r = check({ 'm.ndjson': lines(faulty) }, ['events', 'plan.json', 'm.ndjson', '--source', 'web', '-o', 'json']);
    const found = new Map<string, number>();
    for (const x of told(r).results) if (expected.has(x.code)) found.set(x.code, (found.get(x.code) ?? 0) + x.count!);
    expect(found).toEqual(expected);
  });

  it('says when messages are of another workspace, and when there are none', () => {
    const others = lines(['Parcel Sent', 'Parcel Lost', 'Invoice Paid'].map((name) => good('Signed In', { name })));
    expect(codes(check({ 'm.ndjson': others }, ['events', 'plan.json', 'm.ndjson', '--source', 'web', '-o', 'json']))).toContain(
      'another-plan',
    );
    expect(told(check({ 'm.ndjson': '' }, ['events', 'plan.json', 'm.ndjson', '-o', 'json'])).facts).toContain(
      'No message was read: nothing is proven.',
    );
  });

  it('a HAR of 200 MB is read as it comes: memory stays far below its size', async () => {
    const at = folderWith({ 'plan.json': documentOf(plan) });
    const file = join(at, 'large.har');
    const out = createWriteStream(file);
    out.write('{"log":{"version":"1.2","creator":{"name":"t","version":"1"},"entries":[');
    // Pictures and pages are what makes such files large.
    const filler = JSON.stringify({
      startedDateTime: '2026-03-01T10:00:00Z',
      request: { method: 'GET', url: 'https://x.example.org/p.png' },
      response: { content: { text: 'A'.repeat(1_000_000) } },
    });
    for (let i = 0; i < 200; i++) {
      const own = JSON.stringify({
        startedDateTime: '2026-03-01T10:00:01Z',
        request: {
          method: 'POST',
          url: '/intake',
          postData: {
            text: JSON.stringify([i === 100 ? misspelt() : good('Signed In', { ids: { anonymous: `a-${i}f`, user: `m-2${i}` } })]),
          },
        },
      });
      if (!out.write(`${i === 0 ? '' : ','}${filler},${own}`)) await once(out, 'drain');
    }
    out.end(']}}');
    await once(out, 'finish');
    const child = spawn(
      '/bin/sh',
      ['-c', `exec "${process.execPath}" --max-old-space-size=120 "${program}" events plan.json large.har --source web -o json`],
      { cwd: at },
    );
    let text = '';
    child.stdout.on('data', (d) => (text += String(d)));
    const [code] = (await once(child, 'close')) as [number];
    expect(code).toBe(1);
    expect((JSON.parse(text) as Told).results.map((x) => x.code)).toEqual(['unknown-event']);
  });

  it.each([
    ['cut off', '{"log":{"version":"1.2","entries":[{"request":{"method":"POST","url":"/intake"', /cut off/],
    ['no JSON', '{"log": nothing}', /no whole JSON/],
  ])('a HAR that is %s', (_, text, said) => {
    const r = check({ 'x.har': text }, ['events', 'plan.json', 'x.har']);
    expect([r.code, said.test(r.err)]).toEqual([3, true]);
  });
});

describe('a plan that cannot be read', () => {
  const text = documentOf(plan);
  it.each<[string, string, RegExp]>([
    ['cut off', text.slice(0, text.length / 2), /line \d+.*cut off/],
    ['of a newer format', text.replace('signal-post-plan/1', 'signal-post-plan/2'), /newer than this program/],
    ['with a key twice', text.replace('"event": {', '"event": {}, "event": {'), /unique/i],
    ['empty', '', /empty/],
    ['something else', '{"a": 1}', /fields format/],
    ['with a wrong field', text.replace('"timeZone": "Europe/London"', '"timeZone": "Moon/Base"'), /time zone/],
  ])('%s: exit code 3, and why', (_, broken, said) => {
    const r = check({ 'broken.json': broken }, ['lint', 'broken.json']);
    expect([r.code, r.out]).toEqual([3, '']);
    expect(r.err).toMatch(said);
  });
});

const changed = (edit: (p: Plan) => (ReturnType<typeof setField> | undefined)[]): Plan => {
  const r = applyEdits(
    plan,
    edit(plan).filter((e) => e !== undefined),
  );
  if (!r.ok) throw new Error('no fit');
  return r.plan;
};

describe('lint and diff', () => {
  const worse = changed((p) => [setField(p, 'event', 'tool-viewed', 'trigger', ''), setField(p, 'property', 'loan_days', 'max', 14)]);
  it('lint names the file and the line of what it finds', () => {
    const r = check({ 'worse.json': documentOf(worse) }, ['lint', 'worse.json', '-o', 'json', '--fail-on', 'caution']);
    expect(r.code).toBe(1);
    const hit = told(r).results.find((x) => x.subject === 'event Tool Viewed' && x.code === 'trigger-missing')!;
    const line = readFileSync(join(r.at, 'worse.json'), 'utf8').split('\n')[hit.places[0]!.line! - 1]!;
    expect(line).toMatch(/"(tool-viewed|trigger)"/);
  });
  it('diff tells breaking from additive, with the reason; the same plan twice has no change', () => {
    const files = { 'old.json': documentOf(plan), 'new.json': documentOf(worse, 2) };
    const r = check(files, ['diff', 'old.json', 'new.json', '-o', 'json']);
    expect([
      r.code,
      told(r)
        .results.filter((x) => x.code === 'breaking')
        .map((x) => x.subject),
    ]).toEqual([1, ['event Tool Viewed', 'property loan_days']]);
    const back = check(files, ['diff', 'new.json', 'old.json', '-o', 'json']);
    expect(told(back).results.find((x) => x.subject === 'property loan_days')!.code).toBe('additive');
    expect(codes(check(files, ['diff', 'old.json', 'old.json', '-o', 'json']))).toEqual([]);
  });
});

describe('usage', () => {
  const code = {
    'src/a.ts': `import { loanStarted } from './plan';\nsender.event('Tool Viewed', {});\nsender.event(\`Tool viewed\`);\nloanStarted(sender, {});\nconst label: string = 'borrow a drill';`,
    'src/b.jsx': `export const B = () => <a onClick={() => sender.event('Tool Veiwed')}>x</a>;`,
    'src/c.kt': `fun go() { sender.event("Signed In") ; val x = "signed in" }`,
    'src/d.py': `sender.event('Nothing Known')\n`,
    'src/broken.ts': `const = ;;; sender.event('Signed Out')`,
    'node_modules/x/e.ts': `sender.event('Not Ours');`,
    'src/plan.ts': `// Typed calls for version 1 of the tracking plan “X”. Generated\nto.event('Guide Read')`,
  };
  it('finds other spellings, unknown names, and what nobody sends; each with its place', () => {
    const r = check(code, ['usage', 'plan.json', '.', '-o', 'json']);
    expect(r.code).toBe(1);
    const at = (c: string) =>
      told(r)
        .results.filter((x) => x.code === c)
        .map((x) => [x.subject, x.places.map((p) => `${p.file}:${p.line}`)]);
    expect(at('other-spelling')).toEqual([
      ['Tool Viewed', ['src/a.ts:3']],
      // Not sent by what is seen of it: a note alone.
      ['Signed In', ['src/c.kt:1']],
    ]);
    expect(at('unknown-event')).toEqual([
      ['Nothing Known', ['src/d.py:1']],
      ['Tool Veiwed', ['src/b.jsx:1']],
    ]);
    const missing = at('never-sent').map(([name]) => name);
    expect(missing).not.toContain('Loan Started');
    expect(missing).not.toContain('Signed In');
    expect(missing).not.toContain('Signed Out');
    expect(missing).toContain('Guide Read');
  });
  it('of one source misses only what that source is to send', () => {
    const r = check(code, ['usage', 'plan.json', 'src', '--source', 'Payments', '-o', 'json']);
    expect(
      told(r)
        .results.filter((x) => x.code === 'never-sent')
        .map((x) => x.subject),
    ).toEqual(['Late Fee Charged']);
  });
});

describe('the plan beside the code', () => {
  const write = (at: string, from: string): Ran => runIn(program, at, ['write', from, 'tracking']);
  it('a round trip loses nothing, and writing again changes nothing', () => {
    const { at } = check({}, ['--version']);
    expect(write(at, 'plan.json').code).toBe(0);
    expect(readFileSync(join(at, 'tracking/events/tool-viewed.yaml'), 'utf8')).toContain('trigger:');
    const back = runIn(program, at, ['diff', 'plan.json', 'tracking', '-o', 'json']);
    expect([back.code, codes(back)]).toEqual([0, []]);
    expect(write(at, 'tracking').out).toMatch(/^0 of \d+ files written/);
    writeFileSync(join(at, 'again.json'), documentOf(plan));
    expect(write(at, 'again.json').out).toMatch(/^0 of \d+ files written/);
  });
  it('a file that somebody edited is never written over, and is named', () => {
    const { at } = check({}, ['--version']);
    write(at, 'plan.json');
    const file = join(at, 'tracking/events/signed-in.yaml');
    writeFileSync(file, readFileSync(file, 'utf8').replace('name: Signed In', 'name: Signed in'));
    const r = write(at, 'plan.json');
    expect([r.code, r.out.includes('tracking/events/signed-in.yaml')]).toEqual([1, true]);
    expect(readFileSync(file, 'utf8')).toContain('name: Signed in');
    // Its lint speaks of the file.
    const lint = told(runIn(program, at, ['lint', 'tracking', '-o', 'json']));
    expect(lint.results.some((x) => x.places.some((p) => p.file === 'tracking/events/signed-in.yaml' && p.line === 2))).toBe(true);
  });
  it('a folder that is not one of these is left alone', () => {
    const { at } = check({ 'tracking/own.yaml': 'a: 1\n' }, ['--version']);
    expect(write(at, 'plan.json')).toMatchObject({ code: 2, err: expect.stringContaining('not written by this program') as string });
  });
  it('what is broken in it is told with file and line', () => {
    const { at } = check({}, ['--version']);
    write(at, 'plan.json');
    writeFileSync(join(at, 'tracking/events/signed-in.yaml'), 'id: x\nid: y\nname: [\n');
    const r = runIn(program, at, ['lint', 'tracking']);
    expect([r.code, /events\/signed-in\.yaml:\d/.test(r.err)]).toEqual([3, true]);
  });
  it('as YAML the plan is the same plan', () => {
    const read = readPlanDocument(documentOf(plan));
    expect(read.ok && contentHash(read.value)).toBe(contentHash(plan));
  });
});

describe('configuration', () => {
  it('names the plan, the source and how grave is too grave', () => {
    const files = {
      'signal-post-check.yaml': 'plan: plan.json\nsource: web\nfailOn: never\noutput: json\n',
      'm.ndjson': lines([misspelt()]),
    };
    const r = check(files, ['events', '-', 'm.ndjson']);
    expect([r.code, codes(r)]).toEqual([0, ['unknown-event']]);
  });
  it('with a field that it does not know is wrong use', () => {
    const r = check({ 'signal-post-check.yaml': 'plan: plan.json\nfail: stop\n' }, ['lint', '-']);
    expect([r.code, r.err.includes('fail')]).toEqual([2, true]);
  });
});

test('written to a file', () => {
  const r = check({ 'm.ndjson': lines([misspelt()]) }, [
    'events',
    'plan.json',
    'm.ndjson',
    '--source',
    'web',
    '-o',
    'markdown',
    '--to',
    'report.md',
  ]);
  expect(r.code).toBe(1);
  expect(readFileSync(join(r.at, 'report.md'), 'utf8')).toContain('| stop | Tool viewed |');
});
