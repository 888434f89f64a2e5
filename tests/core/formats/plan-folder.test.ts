import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
  BASE_FILE,
  editedSince,
  folderOf,
  planOfFolder,
  readBase,
  writtenFolder,
  type FolderFile,
} from '../../../src/core/formats/plan-folder';
import { planJson } from '../../../src/core/formats/plan-json';
import { plainJson, planYaml, readPlanDocument } from '../../../src/core/formats/plan-document';
import { contentHash } from '../../../src/core/plan/content-hash';
import { KINDS, type Plan } from '../../../src/core/plan/plan';
import { draftTrial } from '../../../src/core/trial/draft-trial';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';

let n = 0;
/** With trials and prerequisites, too. */
const full = (p: Plan): Plan => {
  const [id] = Object.keys(p.event);
  return {
    ...p,
    trial: id === undefined ? {} : { t: draftTrial(p, { eventId: id }, () => `s${n++}`) },
    source: Object.fromEntries(
      Object.entries(p.source).map(([sid, s]) => [
        sid,
        {
          ...s,
          prerequisites: [
            { what: 'a: "b"\n- c', kind: 'shared setting', notInheritedBy: id === undefined ? [] : [id], done: false } as const,
          ],
        },
      ]),
    ),
  };
};
const given = (plan: Plan, number = 3) => ({ plan, number, contentHash: contentHash(plan) });
const back = (files: readonly FolderFile[]): Plan => {
  const read = planOfFolder(files);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.plan;
};

describe('a folder', () => {
  it('gives back the same plan, whatever is in it', () => {
    fc.assert(
      fc.property(anyPlan, (drawn) => {
        const p = full(drawn);
        const files = folderOf(given(p));
        expect(contentHash(back(files))).toBe(contentHash(p));
        const read = planOfFolder(files);
        expect(read.ok && writtenFolder(read).number).toBe(3);
        // One path each, on file systems that do not tell case, too.
        expect(new Set(files.map((f) => f.path.toLowerCase())).size).toBe(files.length);
        expect(editedSince(readBase(files.at(-1)!.text)!, files)).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });
  it('is the same for the same plan, whatever the order of its tables', () => {
    const plan = full(demoPlan());
    const turned = Object.fromEntries(KINDS.map((k) => [k, Object.fromEntries(Object.entries(plan[k]).reverse())])) as unknown as Plan;
    expect(folderOf(given(turned))).toEqual(folderOf(given(plan)));
  });
  it('an edit of one event changes one file', () => {
    const plan = demoPlan();
    const changed = { ...plan, event: { ...plan.event, 'tool-viewed': { ...plan.event['tool-viewed']!, description: 'Other words.' } } };
    const before = new Map(folderOf(given(plan)).map((f) => [f.path, f.text]));
    const differ = folderOf(given(changed)).filter((f) => before.get(f.path) !== f.text);
    expect(differ.map((f) => f.path)).toEqual(['events/tool-viewed.yaml', BASE_FILE]);
  });
  it('an event that was added by hand, and one whose file was removed, are new and gone', () => {
    const files = folderOf(given(demoPlan()));
    const more = [
      ...files.filter((f) => f.path !== 'events/signed-out.yaml'),
      { path: 'events/own.yaml', text: 'id: own\nname: Shelf Seen\n' },
    ];
    const plan = back(more);
    expect([plan.event['own']!.name, plan.event['own']!.triggerKind, plan.event['signed-out']]).toEqual([
      'Shelf Seen',
      'completed',
      undefined,
    ]);
  });
  it.each<[string, (files: FolderFile[]) => FolderFile[], RegExp]>([
    ['without its base', (f) => f.filter((x) => x.path !== BASE_FILE), /plan\.yaml.*says what version/],
    ['with a base of something else', (f) => f.map((x) => (x.path === BASE_FILE ? { ...x, text: 'a: 1' } : x)), /write the folder anew/],
    ['with an event that has no ID', (f) => [...f, { path: 'events/x.yaml', text: 'name: A\n' }], /events\/x\.yaml.*no `id`/],
    ['with two of one ID', (f) => [...f, { path: 'events/x.yaml', text: 'id: tool-viewed\nname: A\n' }], /also that of events\//],
    ['with a key twice', (f) => [...f, { path: 'events/x.yaml', text: 'id: x\nname: A\nname: B\n' }], /events\/x\.yaml/],
    [
      'with a wrong field',
      (f) => [...f, { path: 'events/x.yaml', text: 'id: x\nname: A\ntriggerKind: maybe\n' }],
      /events\/x\.yaml.*triggerKind/,
    ],
    ['with a list where a map belongs', (f) => f.map((x) => (x.path === 'sources.yaml' ? { ...x, text: '- a\n' } : x)), /sources\.yaml/],
  ])('%s is refused with the file', (_, change, said) => {
    const read = planOfFolder(change(folderOf(given(demoPlan()))));
    expect(read.ok ? 'read' : read.problems.map((p) => `${p.file} ${p.detail}`).join('; ')).toMatch(said);
  });
});

test('a document that is plain JSON is read as such; one in which a key is twice, or that is YAML, is not', () => {
  fc.assert(
    fc.property(anyPlan, (p) => {
      const text = planJson(p, 1, contentHash(p));
      expect(plainJson(text)).toEqual(JSON.parse(text));
      expect(plainJson(text.replace('"version"', '"format": "x",\n  "version"'))).toBeUndefined();
      expect(plainJson(planYaml(p, 1, contentHash(p)))).toBeUndefined();
      for (const document of [text, planYaml(p, 1, contentHash(p))]) {
        const read = readPlanDocument(document);
        expect(read.ok && contentHash(read.value)).toBe(contentHash(p));
      }
    }),
    { numRuns: 30 },
  );
  expect(plainJson('{"a": "x  y", "b": [1, 2]}')).toEqual({ a: 'x  y', b: [1, 2] });
  expect(plainJson('{"a": 1, "a": 2}')).toBeUndefined();
});
