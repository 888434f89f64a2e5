import fc from 'fast-check';
import { marked } from './marked-lines';
import { expect, it, test } from 'vitest';
import { heading, htmlOf, list, markdownOf, name, para, table, code } from '../../../src/core/formats/blocks';
import { changesDocument, sourceDocument } from '../../../src/core/formats/source-document';
import { setField, applyEdits } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import { plan as anyPlan, text } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';

const plan = demoPlan();
const changed = (...edits: (ReturnType<typeof setField> | undefined)[]): Plan => {
  const r = applyEdits(
    plan,
    edits.filter((e) => e !== undefined),
  );
  if (!r.ok) throw new Error('no fit');
  return r.plan;
};

test('the document of a source says all that is to be built there, and nothing of other sources', () => {
  const text = markdownOf(sourceDocument(plan, 3, 'web').blocks);
  for (const part of [
    'Version 3 of the tracking plan.',
    '## Order of work',
    'Inherited by `Catalogue Searched`',
    'not by `Guide Read`: send it with each of them',
    '| first visit | `anonymous` |',
    '### Tool Viewed',
    '#### Must not fire when',
    '#### Accepted when',
    '## User properties',
    '## Where nobody can build it now',
  ])
    expect(text).toContain(part);
  expect(text).not.toContain('### Late Fee Charged');
  expect(text).not.toContain('undefined');
});

test('what to change between two versions: new, gone, renamed, narrowed; with the reason, and for one source alone', () => {
  const to = changed(
    setField(plan, 'property', 'loan_days', 'max', 14),
    setField(plan, 'event', 'tool-viewed', 'trigger', 'Ten seconds were watched.'),
    setField(plan, 'event', 'late-fee-charged', 'description', 'Words alone.'),
  );
  const all = markdownOf(changesDocument({ plan, number: 4 }, { plan: to, number: 5 }, undefined).blocks);
  expect(all).toContain('# What to change to come from version 4 to version 5');
  expect(all).toMatch(/## Property loan_days\n\nOn .*`Loan Started`/);
  expect(all).toMatch(/\| max \| 28 \| 14 \| breaking: /);
  expect(all).toMatch(/## Tool Viewed\n\n.*\n.*\n\| trigger \|/);
  const payments = markdownOf(changesDocument({ plan, number: 4 }, { plan: to, number: 5 }, 'payments').blocks);
  expect(payments).not.toContain('loan_days');
  expect(markdownOf(changesDocument({ plan, number: 4 }, { plan, number: 5 }, undefined).blocks)).toContain(
    'Nothing that engineers have to change.',
  );
  const { 'tool-viewed': gone, ...others } = plan.event;
  const without = { ...plan, event: others };
  expect(markdownOf(changesDocument({ plan, number: 1 }, { plan: without, number: 2 }, undefined).blocks)).toContain(
    `## ${gone!.name}\n\n**Gone**: stop sending it.`,
  );
  expect(markdownOf(changesDocument({ plan: without, number: 1 }, { plan, number: 2 }, 'web').blocks)).toContain('**New**: build it.');
});

it('whatever a plan holds, no text becomes markup: in HTML by tags, in Markdown by cells and fences', () => {
  fc.assert(
    fc.property(anyPlan, (p) => {
      for (const id of Object.keys(p.source)) {
        const { title, blocks } = sourceDocument(p, 0, id);
        const html = htmlOf(title, blocks);
        // Only the tags that are written here.
        expect([...html.matchAll(/<\/?([a-zA-Z!]+[0-9]?)/g)].map((m) => m[1]!.toLowerCase()).filter((t) => !TAGS.has(t))).toEqual([]);
        const cells = marked(markdownOf(blocks));
        expect(cells.broken).toEqual([]);
      }
    }),
    { numRuns: 25 },
  );
});
const TAGS = new Set(
  '!doctype html head meta title style main h1 h2 h3 h4 p ul ol li table thead tbody tr th td code pre strong'.split(' '),
);

it('blocks of any text say in HTML what they say', () => {
  fc.assert(
    fc.property(text, text, text, (a, b, c) => {
      const html = htmlOf(a, [heading(1, a), para(b), list([a, b], true), table([a, b], [[c, name(b)]]), code(c, 'json')]);
      const plain = html.replaceAll(/<style>[\s\S]*<\/style>/g, '').replaceAll(/<[^>]*>/g, '');
      const back = plain.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&amp;', '&');
      // eslint-disable-next-line no-control-regex -- these are what XML does not allow
      expect(back).toContain(c.toWellFormed().replaceAll(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd'));
    }),
    { numRuns: 60 },
  );
});
