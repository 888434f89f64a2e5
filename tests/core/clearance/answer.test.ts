/** What a reader is given of a question: what it says, what to use, what to leave alone; and the picture of its signal. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { answerOf, bySubject, shortened, type Answer } from '../../../src/core/clearance/answer';
import { clearanceOf } from '../../../src/core/clearance/clearance';
import { clearanceContext } from '../../../src/core/clearance/context';
import { GATE_IDS, SIGNALS } from '../../../src/core/clearance/gate';
import { signalSvg } from '../../../src/core/formats/signal-svg';
import { xmlText } from '../../../src/core/formats/xml-text';
import { judgeHistory, type RecordedLine } from '../../../src/core/arrival/history';
import { Watch } from '../../../src/core/plan/watch';
import type { Figure } from '../../../src/core/questions/figure';
import { rememberedFigure } from '../../../src/core/questions/remembered-figure';
import { create, event, planWith, property, question } from '../../build/plan';

const DAY = 86_400_000;
const NOW = 100 * DAY;
const plan = planWith([
  create('source', 'web', { name: 'Web', owner: 'Tomasz' }),
  property('days', { type: 'integer', unit: 'd', description: 'For how long it was lent' }),
  event('v', { name: 'Tool Viewed', flow: 'find', description: 'A tool was looked at', trigger: 'Its page was in sight', owner: 'Ines', object: 'tool', formerNames: ['View Tool'], sources: [{ sourceId: 'web', required: true, build: 'built' }] }), // prettier-ignore
  event('old', { name: 'Tool Peeked', object: 'tool', retired: true }),
  event('l', { name: 'Loan Started', flow: 'borrow', properties: [{ propertyId: 'days', required: true }] }),
  create('definition', 'long', { name: 'Long Loan', description: 'A loan of a week', source: { of: 'events', names: ['Loan Started'] } }),
  question('q', {
    text: 'Who looks at tools?',
    formula: { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'day' },
  }),
  question('t', { formula: { type: 'total of a property', event: { eventName: 'Long Loan', where: [] }, property: 'days', period: 'week' } }), // prettier-ignore
  question('n', {}),
]);
const line = (name: string, i: number): RecordedLine => {
  const at = 99 * DAY + i * 60_000;
  return {
    sourceId: 'web',
    receivedAt: at + 100,
    value: { id: `${name} ${i}`, name, time: new Date(at).toISOString(), ids: { user: `u${i}` }, properties: {} },
  };
};
const lines = [
  ...Array.from({ length: 40 }, (_, i) => line('Tool Viewed', i)),
  ...Array.from({ length: 10 }, (_, i) => line('tool viewed', i)),
];

const answers = (() => {
  const { persons, groups } = judgeHistory(plan, lines, NOW, 10 * DAY);
  const { table } = persons;
  const published = { plan, number: 3, publishedAt: 10 * DAY, watch: Watch.of(plan, 10 * DAY) };
  const context = clearanceContext({ published, persons, groups, now: NOW });
  return Object.fromEntries(
    ['q', 't', 'n'].map((id): [string, Answer] => {
      const q = plan.question[id]!;
      const figure = q.formula ? rememberedFigure(q.formula, context.figures!('fully linked')) : undefined;
      return [
        id,
        answerOf({
          plan, table, groups, questionId: id, question: q, clearance: clearanceOf(q, context), figure,
          bridge: { at: 7, asItWouldBe: 41, steps: [{ id: 'twins', title: 'Other spellings', messages: 10, before: 40, after: 41 }, { id: 'early', title: 'Early', messages: 0, before: 41, after: 41 }] },
          since: undefined, signOff: undefined,
        }), // prettier-ignore
      ];
    }),
  );
})();

test('it says what it counts, whose people, what to use and what to leave alone, each with the reason', () => {
  const { q, t, n } = answers as Record<'q' | 't' | 'n', Answer>;
  expect(q).toMatchObject({ subject: 'find', value: 40, interval: null, isShare: false, countsPeople: true, period: 'day', signOff: null });
  expect(q.sentence).toMatch(/Tool Viewed/);
  expect(q.use).toEqual([
    { name: 'Tool Viewed', kind: 'event', says: 'A tool was looked at. Trigger: Its page was in sight.', owner: 'Ines' },
  ]);
  expect(q.avoid.map((a) => a.name).sort()).toEqual(['Tool Peeked', 'View Tool', 'tool viewed']);
  expect(q.avoid.find((a) => a.name === 'tool viewed')!.why).toContain('Another spelling of `Tool Viewed`');
  // A correction that touches nothing is no step.
  expect(q.corrected).toEqual({ value: 41, at: 7, steps: [{ title: 'Other spellings', messages: 10 }] });
  // The subject of a definition is that of what it is made of.
  expect(t).toMatchObject({ subject: 'borrow', unit: 'd' });
  expect(t.use.map((u) => [u.name, u.kind, u.unit])).toEqual([
    ['Long Loan', 'definition', undefined],
    ['days', 'property', 'd'],
  ]);
  expect(t.use[0]!.says).toMatch(/^A loan of a week.? Made of: /);
  expect(n).toMatchObject({ sentence: '', value: null, figure: null, use: [], avoid: [], subject: '', signal: 'open' });
});

test('what is wrong is what lowers a gate, with since when and who fixes it; a figure at stop is untrusted', () => {
  const { q } = answers as Record<'q', Answer>;
  expect(q.untrusted).toBe(q.signal === 'stop');
  expect(q.wrong.length).toBeGreaterThan(0);
  for (const w of q.wrong) {
    expect(w.since).toBeGreaterThan(0);
    expect(w.who).not.toBe('');
  }
  expect(q.wrong.map((w) => w.sentence).join(' ')).toContain('tool viewed');
});

test('questions are told by subject, those about nothing in particular last; none is lost', () => {
  const list = ['', 'find', 'borrow', 'find', ''].map((subject, i) => ({ ...answers['q']!, subject, questionId: String(i) }));
  const groups = bySubject(list);
  expect(groups.map(([s, own]) => [s, own.map((a) => a.questionId)])).toEqual([
    ['find', ['1', '3']],
    ['borrow', ['2']],
    ['', ['0', '4']],
  ]);
});

test('a long figure keeps its newest periods and its number', () => {
  const point = (i: number) => ({ from: i * DAY, to: (i + 1) * DAY, complete: true, persons: i, messages: i });
  const points = Array.from({ length: 400 }, (_, i) => point(i));
  const f: Figure = { type: 'active persons', points, latest: points[399], messages: 1, unattributed: 0, outside: { before: 0, after: 0 } };
  const short = shortened(f) as typeof f;
  expect(short.points).toEqual(points.slice(-62));
  expect(short.latest).toBe(points[399]);
});

/** The characters of XML 1.0, 2.2. */
const isXml = (s: string): boolean => [...s].every((c) => /^[\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]$/u.test(c));

test('whatever a question is called, its picture is well-formed: no markup, nothing that XML forbids; its words are in it', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.constantFrom(...SIGNALS), fc.boolean(), (text, signal, isWaived) => {
      const gates = GATE_IDS.map((gate) => ({
        gate,
        signal,
        says: '',
        since: null,
        waived: isWaived ? { author: 'a', reason: 'r', at: 1, until: 2, from: signal } : null,
      }));
      const svg = signalSvg({ signal, text, completeUpTo: '2026-11-27', gates }, 'now');
      expect(isXml(svg)).toBe(true);
      const tags = svg.match(/<[^>]*>/g)!;
      const open: string[] = [];
      for (const tag of tags) {
        const name = /^<\/?([a-z]+)/.exec(tag)![1]!;
        if (tag.startsWith('</')) expect(open.pop()).toBe(name);
        else if (!tag.endsWith('/>')) open.push(name);
      }
      expect(open).toEqual([]);
      // What is no tag has no bare sign of markup.
      expect(svg.replace(/<[^>]*>/g, '').replace(/&(amp|lt|gt|quot);/g, '')).not.toMatch(/[<&]/);
      expect(svg).toContain({ stop: '>Stop<', caution: '>Caution<', clear: '>Clear<', open: '>Not judged yet<' }[signal]);
      expect(svg.includes('waived: planned')).toBe(isWaived);
      expect(svg).toContain('complete up to 2026-11-27');
    }),
  );
});

test('text of XML: signs of markup are named, lone halves of pairs and control characters replaced', () => {
  expect(xmlText('a<b>&"c"')).toBe('a&lt;b&gt;&amp;&quot;c&quot;');
  expect(xmlText('\u0000\ud800x\u001f')).toBe('\ufffd\ufffdx\ufffd');
});
