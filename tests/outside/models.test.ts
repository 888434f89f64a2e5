/** Models of the events, by the compilers of their languages.
 *  Sources: CPython's `compile`, `go build` (Go 1.19), `javac` 17 with Jackson 2 from Debian. Kotlin, Swift and C# are not compiled here: Debian has no
 *  compiler of theirs that a test run could install in reasonable time; their wire names alone are looked for.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { modelsOf } from '../../src/analysis/models';
import { sampleProperties } from '../../src/core/formats/ticket';
import { sentEvents } from '../../src/core/formats/message-schema';
import { contentHash } from '../../src/core/plan/content-hash';
import { propertiesOf, type Plan } from '../../src/core/plan/plan';
import { create, event, planWith, property } from '../build/plan';
import { demoPlan } from '../build/demo-plan';

const given = (plan: Plan) => ({ plan, number: 2, contentHash: contentHash(plan) });
const colliding = planWith(
  [
    property('a', { name: 'tool_id', samples: ['1'] }),
    property('b', { name: 'toolId', type: 'integer', samples: ['1'] }),
    property('c', { name: 'class', allowed: ['new', 'NEW', 'import', 'größer'], samples: ['new'] }),
    property('d', { name: 'товар', type: 'list of string', samples: ['x'] }),
    property('e', { name: 'total', within: ['order'], type: 'number', samples: ['1.5'] }),
    property('f', { name: 'def', type: 'boolean', description: 'ends */ here\n"""', samples: ['true'] }),
    property('g', { name: '1st', samples: ['x'] }),
    create('source', 's', { name: 'Shop' }),
    ...['delete', 'Delete', 'Crate Moved', 'товар просмотрен', '3D Shown'].map((name, i) =>
      event(`e${i}`, {
        name,
        properties: ['a', 'b', 'c', 'd', 'e', 'f', 'g'].map((propertyId, j) => ({ propertyId, required: j % 2 === 0 })),
        sources: [{ sourceId: 's', required: true, build: 'agreed' }],
      }),
    ),
  ],
  { name: 'Two\nlines' },
);

const directory = (): string => mkdtempSync(join(tmpdir(), 'models-'));
const oneModel = async (plan: Plan, language: 'python' | 'go'): Promise<string> => {
  const files = [...(await modelsOf(given(plan), language)).values()];
  expect(files).toHaveLength(1);
  return files[0]!;
};
const run = (command: string, args: readonly string[], cwd: string, env: NodeJS.ProcessEnv = {}): string => {
  const r = spawnSync(command, args, { cwd, encoding: 'utf8', env: { ...process.env, ...env } });
  return r.status === 0 ? 'ok' : `${command}: ${r.error?.message ?? ''}${r.stdout}${r.stderr}`.slice(0, 4000);
};

describe.each([
  ['the demo’s plan', demoPlan()],
  ['names that are keywords, collide, or are in another script', colliding],
] as const)('%s', (_, plan) => {
  it.each(['kotlin', 'swift', 'python', 'java', 'go', 'csharp'] as const)(
    'in %s: every wire name, version and hash; the same again',
    async (language) => {
      const files = await modelsOf(given(plan), language);
      for (const each of files.values()) {
        expect(each).toContain('version 2');
        expect(each).toContain(contentHash(plan));
      }
      expect([...(await modelsOf(given(plan), language))]).toEqual([...files]);
      const text = [...files.values()].join('\n');
      for (const [, e] of sentEvents(plan))
        for (const { property: p } of propertiesOf(plan, e))
          expect([p.name, text.includes(p.name) || text.includes('\\u')]).toEqual([p.name, true]);
    },
  );

  it('in Python: compiles, and gives a message back as it took it', async () => {
    const at = directory();
    writeFileSync(join(at, 'plan_models.py'), await oneModel(plan, 'python'));
    const used = plan === colliding ? [] : sentEvents(plan);
    const uses = used.flatMap(([, e], i) => [
      `v${i} = json.loads(${JSON.stringify(JSON.stringify(sampleProperties(plan, e)))})`,
      `f${i} = [getattr(m, n) for n in dir(m) if n.replace('_', '') == ${JSON.stringify(`${e.name.replaceAll(' ', '').toLowerCase()}fromdict`)}][0]`,
      `assert f${i}(v${i}).to_dict() == v${i}, (f${i}(v${i}).to_dict(), v${i})`,
    ]);
    writeFileSync(join(at, 'use.py'), ['import json', 'import plan_models as m', ...uses, ''].join('\n'));
    expect(run('python3', ['use.py'], at)).toBe('ok');
  });

  it('in Go: builds', async () => {
    const at = directory();
    writeFileSync(join(at, 'plan.go'), await oneModel(plan, 'go'));
    writeFileSync(join(at, 'go.mod'), 'module plan\n\ngo 1.19\n');
    expect(run('go', ['build', './...'], at, { GOFLAGS: '-mod=mod', GOPROXY: 'off', GOCACHE: join(tmpdir(), 'signal-post-go') })).toBe(
      'ok',
    );
  });

  it('in Java: compiles', async () => {
    const at = directory();
    for (const [path, text] of await modelsOf(given(plan), 'java')) {
      mkdirSync(dirname(join(at, path)), { recursive: true });
      writeFileSync(join(at, path), text);
    }
    const jars = readdirSync('/usr/share/java').filter((f) => /^jackson-(core|databind|annotations)\.jar$/.test(f));
    expect(jars).toHaveLength(3);
    const classpath = jars.map((j) => `/usr/share/java/${j}`).join(':');
    expect(
      run('javac', ['-cp', classpath, '-encoding', 'UTF-8', '-d', 'out', ...readdirSync(join(at, 'plan')).map((f) => join('plan', f))], at),
    ).toBe('ok');
  });
});
