/** What a trial came to, as a report and as a document. */
import { heading, list, markdownOf, name, para, type Block } from '../formats/blocks';
import type { StepVerdict, TrialVerdict } from '../trial/verdict-shape';
import type { TrialScript } from '../trial/script';
import type { Case, Report, Result } from './report';

/** Everything that is not as it must be in a step. */
export const misfitsOfStep = (s: StepVerdict) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden];

const caseState = (s: StepVerdict): Case['state'] =>
  s.state === 'passed' ? 'passed' : s.state === 'failed' || s.state === 'gap' ? 'failed' : 'skipped';

const reasonOf = (s: StepVerdict): string => {
  const misfits = misfitsOfStep(s);
  if (misfits.length > 0)
    return [
      ...misfits.map((m) => `${m.sentence} Expected ${m.expected}; received ${m.received}.`),
      ...s.remarks,
      ...(s.reason === '' ? [] : [s.reason]),
    ].join('\n');
  return s.reason || (s.state === 'waiting' ? 'It was still waited for.' : s.state === 'not begun' ? 'It was not done.' : '');
};

export const trialReport = (script: TrialScript, verdict: TrialVerdict, facts: readonly string[] = []): Report => {
  const results: Result[] = [
    ...(verdict.baseline?.misfits ?? []).map((m) => ({ m, subject: 'Baseline' })),
    ...verdict.steps.flatMap((s, i) => misfitsOfStep(s).map((m) => ({ m, subject: `Step ${i + 1}` }))),
  ].map(({ m, subject }) => ({
    code: `trial-${m.what.replaceAll(' ', '-')}`,
    severity: 'stop' as const,
    subject: `${subject}, ${m.event}`,
    sentence: m.sentence,
    fix: `Expected: ${m.expected}. Received: ${m.received}.`,
    places: [],
  }));
  const empty = verdict.steps.flatMap((s, i): Result[] =>
    s.state === 'gap' && misfitsOfStep(s).length === 0
      ? [
          {
            code: 'trial-gap',
            severity: 'stop',
            subject: `Step ${i + 1}`,
            sentence: `Nothing came of “${s.does}”.`,
            fix: s.reason,
            places: [],
          },
        ]
      : [],
  );
  const all = [...results, ...empty];
  return {
    command: 'trial',
    title: `Trial “${script.name}”: ${verdict.state}`,
    facts,
    results: all,
    rules: [
      ...new Map(all.map((r) => [r.code, { code: r.code, title: r.code.replaceAll('-', ' '), why: '', severity: r.severity }])).values(),
    ],
    cases: [
      ...(verdict.baseline
        ? [
            {
              group: script.name,
              name: 'Baseline: none of the events comes yet',
              state:
                verdict.baseline.state === 'clean'
                  ? ('passed' as const)
                  : verdict.baseline.state === 'waiting'
                    ? ('skipped' as const)
                    : ('failed' as const),
              text: verdict.baseline.misfits.map((m) => m.sentence).join('\n'),
            },
          ]
        : []),
      ...verdict.steps.map((s, i): Case => ({
        group: script.name,
        name: `${i + 1}. ${s.does}`,
        state: caseState(s),
        text: s.state === 'passed' ? '' : reasonOf(s),
      })),
    ],
  };
};

/** The evidence of a trial as Markdown: who, when, and what each step expected and received. */
export const trialMarkdown = (script: TrialScript, verdict: TrialVerdict, facts: readonly string[]): string => {
  const blocks: Block[] = [
    heading(1, `Trial “${script.name}”: ${verdict.state}`),
    list([...facts, ...(verdict.baseline ? [`Baseline: ${verdict.baseline.state}`] : [])]),
  ];
  for (const [i, s] of verdict.steps.entries()) {
    blocks.push(heading(2, `${i + 1}. ${s.does}`), para(`**${s.state}**${s.reason === '' ? '' : `: ${s.reason}`}`));
    const lines = [
      ...s.expected.map(({ expected, messages, received }) => {
        const came = messages.map(
          (m, j) =>
            `${name(m.messageId)} from ${m.sourceId}, release ${m.release || 'unknown'}, ${new Date(m.receivedAt).toISOString()}${received?.[j] ? `, with ${received[j]}` : ''}`,
        );
        return `${name(expected.event)}: ${came.length === 0 ? 'none' : came.join('; ')}`;
      }),
      ...misfitsOfStep(s).map((m) => `${m.sentence} Expected ${m.expected}; received ${m.received}.`),
      ...s.besides.filter((m) => m.kind === 'event').map((m) => `Besides: ${name(m.name)}`),
      ...s.remarks,
    ];
    if (lines.length > 0) blocks.push(list(lines));
  }
  return markdownOf(blocks);
};
