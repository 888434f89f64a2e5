/** A report as JUnit XML. Source: the format as Ant and Surefire write it (common practice; it has no published standard). */
import { create } from 'xmlbuilder';
import { countText, type Report } from './report';

/** No character that XML 1.0, 2.2 does not allow. */
const allowed = (s: string): string =>
  // eslint-disable-next-line no-control-regex -- these are what XML does not allow
  s.toWellFormed().replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd');

/** Shape: a suite for each group of cases, in the order of first sight; a document of UTF-8. */
export const junitText = ({ command, title, cases, results }: Report): string => {
  const root = create('testsuites', { version: '1.0', encoding: 'UTF-8' });
  root.att('name', allowed(title));
  root.att('tests', cases.length).att('failures', cases.filter((c) => c.state === 'failed').length);
  const groups = new Map<string, (typeof cases)[number][]>();
  for (const c of cases) groups.set(c.group, [...(groups.get(c.group) ?? []), c]);
  for (const [name, own] of groups) {
    const suite = root.ele('testsuite', {
      name: allowed(name),
      tests: own.length,
      failures: own.filter((c) => c.state === 'failed').length,
      errors: 0,
      skipped: own.filter((c) => c.state === 'skipped').length,
    });
    for (const c of own) {
      const element = suite.ele('testcase', {
        classname: allowed(`${command}.${name}`),
        name: allowed(c.name),
        ...(c.place ? { file: allowed(c.place.file), ...(c.place.line === undefined ? {} : { line: c.place.line }) } : {}),
      });
      if (c.state === 'failed') element.ele('failure', { message: allowed(c.text.split('\n')[0] ?? '') }).txt(allowed(c.text));
      if (c.state === 'skipped') element.ele('skipped', c.text === '' ? {} : { message: allowed(c.text) });
    }
  }
  root.com(allowed(` ${countText(results)} `).replaceAll('--', '- -'));
  return `${root.end({ pretty: true })}\n`;
};
