/** The registry of formats: what one writes, one reads again, and a file is told by its name and text. */
import { expect, test } from 'vitest';
import { contentHash } from '../../../src/core/plan/content-hash';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { emptyPlan, entries, type Plan } from '../../../src/core/plan/plan';
import { eventSchema } from '../../../src/core/formats/json-schema';
import { FORMATS, formatOf, readable, recognised, written } from '../../../src/core/formats/plan/index';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { publishedEdits } from '../../../src/demo/plan';

const empty = emptyPlan(DEFAULT_SETTINGS);
const planWith = (edits: readonly Edit[], base = empty): Plan => {
  const r = applyEdits(base, edits);
  if (!r.ok) throw new Error(JSON.stringify(r));
  return r.plan;
};
const published = planWith(publishedEdits.filter((e) => e.kind !== 'settings'));
/** What arrives sets a source to seen, a sheet cannot. */
const demo: Plan = {
  ...published,
  event: Object.fromEntries(
    entries(published, 'event').map(([id, e]) => [id, { ...e, sources: e.sources.map((s) => ({ ...s, build: 'built' as const })) }]),
  ),
};
const given = { plan: demo, number: 3, contentHash: contentHash(demo) };
let next = 0;
const options = { fileName: '', how: 'add', newId: () => `n-${next++}`, now: 0 } as const;
const eventNames = (plan: Plan): string[] => entries(plan, 'event').map(([, e]) => e.name);

test('each format has an id of its own, and is written or read; what is written has a file, what is read a name', () => {
  expect(new Set(FORMATS.map((f) => f.id)).size).toBe(FORMATS.length);
  for (const f of FORMATS) expect([f.id, formatOf(f.id) === f]).toEqual([f.id, true]);
  for (const f of written) expect([f.id, f.file !== undefined, f.title !== '']).toEqual([f.id, true, true]);
  for (const f of readable) expect([f.id, f.reads !== undefined]).toEqual([f.id, true]);
});

for (const f of written.filter((w) => w.read !== undefined))
  test(`${f.id}: what is written is recognised, and read into a workspace without events and properties without a problem`, () => {
    const text = f.write!(given);
    expect(recognised(`plan.${f.file!.ending}`, text)).toBe(f.id);
    // A sheet names sources and shared sets, which must be there.
    const bare = { ...demo, event: {}, property: {}, definition: {} };
    const outcome = f.read!(bare, text, { ...options, fileName: `plan.${f.file!.ending}` });
    expect(outcome.problems).toEqual([]);
    const read = planWith(outcome.edits, bare);
    if (f.id === 'definitions') expect(Object.values(read.definition)).toEqual(Object.values(demo.definition));
    else if (f.id === 'names') expect(eventNames(read).length).toBeGreaterThan(0);
    else expect(eventNames(read).sort()).toEqual(eventNames(demo).sort());
  });

test('a pasted text is told by its look alone', () => {
  const [, event] = entries(demo, 'event')[0]!;
  const texts: [string, string][] = [
    [JSON.stringify(eventSchema(demo, event)), 'event-schema'],
    [formatOf('json')!.write!(given), 'json'],
    [`\n\n${formatOf('yaml')!.write!(given)}`, 'yaml'],
    ['shop / cart / opened\nshop / cart / closed', 'names'],
    ['event,property\nTool Viewed,tool_id', 'csv'],
    ['definition,owner\nA,Ana', 'definitions'],
    ['event\tproperty\nA/B Tested\ttool_id', 'csv'],
    ['', 'csv'],
  ];
  for (const [text, id] of texts) expect([text.slice(0, 40), recognised('', text)]).toEqual([text.slice(0, 40), id]);
});

test('what cannot be read says so in the outcome and gives no edits', () => {
  for (const f of readable) {
    const outcome = f.read!(demo, '{"format": ', { ...options, fileName: 'broken.json' });
    expect([f.id, outcome.edits.length]).toEqual([f.id, 0]);
    if (f.id !== 'csv') expect([f.id, outcome.problems.length > 0]).toEqual([f.id, true]);
  }
});
