/** What the test runners report, read; each failure as a first line that says what was expected, what came, and how to repeat it alone. */
import { relative } from 'node:path';
import { ROOT } from './shell';

export interface Tally {
  passed: number;
  failed: number;
  /** What failed, and how: said once more at the end, where a log that is cut still has it. */
  why?: readonly string[];
}

const LINES_OF_ONE = 14;
// eslint-disable-next-line no-control-regex
const COLOURS = /\u001b\[[0-9;]*m/g;

/** A text for a shell, as one word. */
const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;

/** What was drawn at random is drawn again by the same number. */
const draw = (): string => [...(process.env['DRAWN'] === undefined ? [] : [`DRAWN=${process.env['DRAWN']} `])].join('');
const deep = (): string => (process.env['SIGNAL_POST_DEEP'] === '1' ? ' --deep' : '');

/** A failure: a line with the test, what it says, and the command; then some lines more of what it says. */
export const failureText = (step: 'unit' | 'browser', file: string, title: string, message: string): string => {
  const lines = message.replace(COLOURS, '').split('\n').filter((l) => l.trim() !== '' && !l.includes('/node_modules/')); // prettier-ignore
  const place = relative(ROOT, file);
  const again = `${draw()}./signal-post test --only ${step} ${place}${title === '' ? '' : ` -t ${quoted(title)}`}${deep()}`;
  // A runner's own "expected … to equal …" stands in its first line; where it is cut, what came follows as a difference.
  return [
    `${place}${title === '' ? '' : ` › ${title}`}: ${lines[0] ?? 'it failed'}   again: ${again}`,
    ...lines.slice(1, LINES_OF_ONE),
  ].join('\n    ');
};

export interface VitestReport {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
  readonly numFailedTestSuites: number;
  readonly testResults: readonly {
    readonly name: string;
    readonly message?: string;
    readonly startTime: number;
    readonly endTime: number;
    readonly assertionResults: readonly {
      readonly fullName: string;
      readonly status: string;
      readonly failureMessages?: readonly string[];
    }[];
  }[];
}

export const readVitest = (j: VitestReport): Tally => ({
  passed: j.numPassedTests,
  failed: Math.max(j.numFailedTests, j.numFailedTestSuites > 0 ? 1 : 0),
  why: j.testResults.flatMap((f) => [
    ...(f.message ? [failureText('unit', f.name, '', f.message)] : []),
    ...f.assertionResults
      .filter((a) => a.status === 'failed')
      .map((a) => failureText('unit', f.name, a.fullName, a.failureMessages?.[0] ?? '')),
  ]),
});

interface Suite {
  readonly suites?: readonly Suite[];
  readonly specs: readonly {
    readonly title: string;
    readonly file: string;
    readonly ok: boolean;
    readonly tests: readonly { readonly results: readonly { readonly error?: { readonly message?: string } }[] }[];
  }[];
}
export interface PlaywrightReport {
  readonly stats: { readonly expected: number; readonly unexpected: number; readonly flaky: number };
  readonly suites: readonly Suite[];
}

const failing = (suite: Suite): string[] => [
  ...suite.specs
    .filter((s) => !s.ok)
    .map((s) =>
      failureText(
        'browser',
        `${ROOT}/tests/browser/${s.file}`,
        s.title,
        s.tests.flatMap((t) => t.results.flatMap((r) => r.error?.message ?? [])).join('\n'),
      ),
    ),
  ...(suite.suites ?? []).flatMap(failing),
];

export const readPlaywright = (j: PlaywrightReport): Tally => ({
  passed: j.stats.expected,
  // One that passed at its second try has failed once.
  failed: j.stats.unexpected + j.stats.flaky,
  why: j.suites.flatMap(failing),
});
