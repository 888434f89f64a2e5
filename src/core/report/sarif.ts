/** A report as SARIF. Source: OASIS, Static Analysis Results Interchange Format 2.1.0. */
import { fingerprint } from '../plan/content-hash';
import type { Severity } from '../findings/severity';
import type { Report } from './report';

/** Section 3.27.10. */
const LEVEL: Record<Severity, string> = { stop: 'error', caution: 'warning', note: 'note' };

/** A path as a reference to a URI, relative where the path is. Source: RFC 3986, 4.2; section 3.4.3. */
const uriOf = (path: string): string =>
  path
    .replaceAll('\\', '/')
    .split('/')
    .map((s) => encodeURIComponent(s))
    .join('/')
    .replace(/^([^/]*)%3A/i, './$1%3A');

/** Shape: one run; results without a place in a file have none. `version` is that of the program. */
export const sarifOf = ({ command, rules, results }: Report, version: string): Record<string, unknown> => {
  const index = new Map(rules.map((r, i) => [r.code, i]));
  return {
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'signal-post-check',
            version,
            rules: rules.map((r) => ({
              id: r.code,
              name: r.title,
              shortDescription: { text: r.title },
              fullDescription: { text: r.why === '' ? r.title : r.why },
              defaultConfiguration: { level: LEVEL[r.severity] },
            })),
          },
        },
        automationDetails: { id: `signal-post-check/${command}/` },
        columnKind: 'utf16CodeUnits',
        results: results.map((r) => ({
          ruleId: r.code,
          ...(index.has(r.code) ? { ruleIndex: index.get(r.code)! } : {}),
          level: LEVEL[r.severity],
          message: { text: [r.sentence, r.fix].filter(Boolean).join(' ') },
          ...(r.count === undefined ? {} : { occurrenceCount: Math.max(1, r.count) }),
          locations: r.places.slice(0, 10).map((p) => ({
            physicalLocation: {
              artifactLocation: { uri: uriOf(p.file) },
              ...(p.line === undefined
                ? {}
                : { region: { startLine: p.line, ...(p.column === undefined ? {} : { startColumn: p.column }) } }),
            },
          })),
          // The same finding is known again when lines before it come or go.
          partialFingerprints: {
            'subjectAndCode/v1': fingerprint(JSON.stringify([r.code, r.subject, r.places[0]?.file ?? ''])).slice(0, 32),
          },
        })),
      },
    ],
  };
};
