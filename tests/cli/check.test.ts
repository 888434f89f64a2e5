/** The build check as builds run it: the built file, a process of its own, exit codes, and bad input. */
import { readFileSync, writeFileSync, createWriteStream } from 'node:fs';
import { spawn, spawnSync } from 'node:child_process';
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
import { until } from '../build/wait';
import { built, documentOf, DOWNLOADS, folderWith, runIn, type Ran } from './program';

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

  describe('of several sources', () => {
    const signedOut = () => good('Signed In', { ids: { user: 'm-10443' } });
    const withKeys = (...keys: readonly (string | undefined)[]) => {
      const file = har(keys.map(() => JSON.stringify([signedOut()])));
      file.log.entries.forEach((e, i) => {
        e.request.url = keys[i] === 'address' ? 'https://post.example.org/intake?key=sp_addressed_1' : 'https://post.example.org/intake';
        if (keys[i] !== undefined && keys[i] !== 'address')
          (e.request.headers as object[]).push({ name: 'Authorization', value: `Bearer ${keys[i]}` });
      });
      return JSON.stringify(file);
    };
    it('the write key says which source a request is of: by the header or the address, by its beginning, by the longest that fits', () => {
      const files = {
        'run.har': withKeys('sp_web_secret_1', 'sp_web_other_9', 'address'),
        'signal-post-check.yaml': 'keys:\n  sp_web: web\n',
      };
      const out = told(
        check(files, ['events', 'plan.json', 'run.har', '--key', 'sp_web_other=app', '--key', 'sp_addressed…=Branch kiosk', '-o', 'json']),
      );
      // Nobody is told of a source that is not theirs: each message conforms where it was sent from.
      expect(out.facts.some((f) => f.includes('which no source has'))).toBe(false);
      expect(out.results.map((x) => x.code)).toEqual([]);
      // One message in two requests: sent again where both are of one source, two messages where they are of two.
      const twice = JSON.parse(withKeys('sp_web_a', 'sp_app_b')) as ReturnType<typeof har>;
      twice.log.entries[1]!.request.postData.text = twice.log.entries[0]!.request.postData.text;
      const counted = (...keys: string[]) =>
        told(
          check({ 'run.har': JSON.stringify(twice) }, [
            'events',
            'plan.json',
            'run.har',
            '-o',
            'json',
            ...keys.flatMap((k) => ['--key', k]),
          ]),
        ).facts[0];
      expect(counted('sp_web=web', 'sp_app=web')).toContain('1 counted, 1 duplicates');
      expect(counted('sp_web=web', 'sp_app=app')).toContain('2 counted, 0 duplicates');
      expect(JSON.stringify(out)).not.toContain('sp_web_secret');
    });
    it('a key that nobody named is said, without the key', () => {
      const r = check({ 'run.har': withKeys('sp_unknown_secret') }, ['events', 'plan.json', 'run.har', '-o', 'json']);
      expect(told(r).facts.at(-1)).toBe('1 request with the key sp_unkno…, which no source has: name it with --key sp_unkno…=SOURCE');
      expect(r.out).not.toContain('secret');
    });
    it('a key of a source that the plan does not have, or that names none, is wrong use', () => {
      const files = { 'run.har': withKeys('k') };
      expect(check(files, ['events', 'plan.json', 'run.har', '--key', 'k=nobody']).code).toBe(2);
      expect(check(files, ['events', 'plan.json', 'run.har', '--key', 'nobody'])).toMatchObject({ code: 2, err: expect.stringContaining('KEY=SOURCE') as string }); // prettier-ignore
    });
  });

  it('the evidence of a trial is read: as JSON, and as lines with what was done between them', () => {
    const at = Date.UTC(2026, 2, 1, 10);
    const kept = [good('Signed In'), misspelt()].map((m) => ({ ...m, time: undefined, messageId: m.id, id: undefined, kind: 'event', sourceId: 'web', occurredAt: at, receivedAt: at + 1000, findings: [], seq: 1 })); // prettier-ignore
    const evidence = { run: { id: 'r' }, verdict: { state: 'passed' }, messages: kept, facts: [] };
    const marks = [
      { step: 'baseline', at: '2026-03-01T09:00:00Z' },
      { step: 1, at: '2026-03-01T09:01:00Z' },
    ];
    for (const text of [
      JSON.stringify(evidence, null, 2),
      JSON.stringify(evidence),
      lines([marks[0]!, good('Signed In'), marks[1]!, misspelt()]),
    ]) {
      const out = told(check({ 'e.json': text }, ['events', 'plan.json', 'e.json', '--source', 'web', '-o', 'json']));
      expect([out.results.map((x) => x.code), out.facts[0]]).toEqual([['unknown-event'], '2 messages read, 2 counted, 0 duplicates, 0 not readable or rejected']); // prettier-ignore
    }
  });

  it('too few messages fail it: none by itself, more by --min', () => {
    const run = (text: string, ...args: string[]) =>
      check({ 'm.ndjson': text }, ['events', 'plan.json', 'm.ndjson', '--source', 'web', '-o', 'json', ...args]);
    const none = run('');
    expect([none.code, codes(none), told(none).results[0]!.sentence]).toEqual([
      1,
      ['too-few'],
      '0 messages counted; at least 1 is expected.',
    ]);
    expect(run('', '--min', '0').code).toBe(0);
    const one = lines([good('Signed In')]);
    expect(run(one).code).toBe(0);
    expect([run(one, '--min', '2').code, codes(run(one, '--min', '2'))]).toEqual([1, ['too-few']]);
    expect(run(one, '--min', 'few').code).toBe(2);
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

describe('a baseline', () => {
  const bad = { 'm.ndjson': lines([misspelt(), misspelt()]) };
  it('only what is new is told and fails; more of the same is not new; what is gone is said; other commands keep theirs', () => {
    const { at } = check({ ...bad, 'src/a.ts': `sender.event('Nothing Known')` }, ['--version']);
    const run = (...args: string[]) => runIn(program, at, [...args, '-o', 'json']);
    const events = ['events', 'plan.json', 'm.ndjson', '--source', 'web'];
    expect(run(...events, '--write-baseline', 'known.json')).toMatchObject({ code: 0, out: expect.stringContaining('known from now on') as string }); // prettier-ignore
    expect(run('usage', 'plan.json', 'src', '--write-baseline', 'known.json').code).toBe(0);
    const known = run(...events, '--baseline', 'known.json');
    expect([known.code, codes(known)]).toEqual([0, []]);
    expect(told(known).facts.at(-1)).toBe('1 known by the baseline, not shown');
    // The same fault on more messages, and another one.
    writeFileSync(join(at, 'm.ndjson'), lines([misspelt(), misspelt(), misspelt(), good('Signed In', { name: 'Signed inn' })]));
    const more = run(...events, '--baseline', 'known.json');
    expect([more.code, told(more).results.map((x) => x.subject)]).toEqual([1, ['Signed inn']]);
    writeFileSync(join(at, 'm.ndjson'), lines([good('Signed In')]));
    expect(told(run(...events, '--baseline', 'known.json')).facts.at(-1)).toBe('1 of the baseline are found no more; write it anew');
    const usage = run('usage', 'plan.json', 'src', '--baseline', 'known.json');
    expect([usage.code, codes(usage)]).toEqual([0, []]);
    writeFileSync(join(at, 'src/b.ts'), `sender.event('Nothing Else')`);
    expect(run('usage', 'plan.json', 'src', '--baseline', 'known.json').code).toBe(1);
  });
  it('in JUnit what is known is skipped, not passed', () => {
    const { at } = check(bad, ['--version']);
    const run = (...args: string[]) => runIn(program, at, ['events', 'plan.json', 'm.ndjson', '--source', 'web', ...args]);
    run('--write-baseline', 'known.json');
    const xml = run('--baseline', 'known.json', '-o', 'junit').out;
    expect(xml).toMatch(/tests="1"[^>]*failures="0"[^>]*skipped="1"/);
  });
  it('that is not there or no baseline is said', () => {
    expect(check(bad, ['events', 'plan.json', 'm.ndjson', '--baseline', 'nowhere.json']).code).toBe(3);
    expect(check({ ...bad, 'b.json': '{"a":1}' }, ['events', 'plan.json', 'm.ndjson', '--baseline', 'b.json'])).toMatchObject({ code: 3, err: expect.stringContaining('no baseline') as string }); // prettier-ignore
  });
});

test('it runs again when a file changes, says what is half written, and ends by Ctrl-C', async () => {
  const { at } = check({ 'm.ndjson': lines([misspelt()]) }, ['--version']);
  const child = spawn(process.execPath, [program, 'events', 'plan.json', 'm.ndjson', '--source', 'web', '--watch'], { cwd: at });
  let out = '';
  let err = '';
  child.stdout.on('data', (d) => (out += String(d)));
  child.stderr.on('data', (d) => (err += String(d)));
  const ends = once(child, 'close');
  await until('first run', () => Promise.resolve(out.includes('1 stop, 0 caution') || undefined));
  writeFileSync(join(at, 'plan.json'), '{');
  await until('half a plan', () => Promise.resolve(err.includes('plan.json') || undefined));
  writeFileSync(join(at, 'plan.json'), documentOf(plan));
  writeFileSync(join(at, 'm.ndjson'), lines([good('Signed In')]));
  await until('mended', () => Promise.resolve(out.includes('nothing found') || undefined));
  child.kill('SIGINT');
  expect((await ends)[0]).toBe(0);
});

test('as a package it is installed without a network, and started by its name', () => {
  const { at } = check({ 'm.ndjson': lines([good('Signed In')]), 'package.json': '{"private":true}' }, ['--version']);
  const installed = spawnSync('npm', ['install', '--offline', '--no-audit', '--no-fund', join(DOWNLOADS, 'signal-post-check.tgz')], {
    cwd: at,
    encoding: 'utf8',
  });
  expect([installed.status, installed.status === 0 ? '' : installed.stderr]).toEqual([0, '']);
  const r = spawnSync(join(at, 'node_modules/.bin/signal-post-check'), ['events', 'plan.json', 'm.ndjson', '--source', 'web'], {
    cwd: at,
    encoding: 'utf8',
  });
  expect([r.status, r.stdout.includes('nothing found')]).toEqual([0, true]);
});
