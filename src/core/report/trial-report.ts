/** What a trial came to, as a report and as a document. */
import type { StepVerdict, TrialVerdict } from '../trial/verdict';
import type { TrialScript } from '../trial/script';
import type { Case, Report, Result } from './report';

/** Everything that is not as it must be in a step. */
export const misfitsOfStep = (s: StepVerdict) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden];

const caseState = (s: StepVerdict): Case['state'] =>
  s.state === 'passed' ? 'passed' : s.state === 'failed' || s.state === 'gap' ? 'failed' : 'skipped';

const reasonOf = (s: StepVerdict): string => {
  const misfits = misfitsOfStep(s);
  if (misfits.length > 0)
    return [...misfits.map((m) => `${m.sentence} Expected ${m.expected}; received ${m.received}.`), ...s.remarks].join('\n');
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

const plain = (s: string): string =>
  s
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll(/\s*\n\s*/g, ' ');

/** The evidence of a trial as Markdown: who, when, and what each step expected and received. */
export const trialMarkdown = (script: TrialScript, verdict: TrialVerdict, facts: readonly string[]): string => {
  const lines = [`# Trial “${plain(script.name)}”: ${verdict.state}`, '', ...facts.map((f) => `- ${plain(f)}`)];
  if (verdict.baseline) lines.push(`- Baseline: ${verdict.baseline.state}`);
  for (const [i, s] of verdict.steps.entries()) {
    lines.push('', `## ${i + 1}. ${plain(s.does)}`, '', `**${s.state}**${s.reason === '' ? '' : `: ${plain(s.reason)}`}`);
    for (const e of s.expected) {
      const came = e.messages.map(
        (m) =>
          `\`${m.messageId.replaceAll('`', '')}\` from ${plain(m.sourceId)}, release ${plain(m.release) || 'unknown'}, ${new Date(m.receivedAt).toISOString()}`,
      );
      lines.push('', `- \`${e.expected.event}\`: ${came.length === 0 ? 'none' : came.join('; ')}`);
    }
    for (const m of misfitsOfStep(s)) lines.push(`- ${plain(m.sentence)} Expected ${plain(m.expected)}; received ${plain(m.received)}.`);
    for (const m of s.besides) if (m.kind === 'event') lines.push(`- Besides: \`${m.name}\``);
    for (const r of s.remarks) lines.push(`- ${plain(r)}`);
  }
  return `${lines.join('\n')}\n`;
};
