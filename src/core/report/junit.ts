/** A report as JUnit XML. Source: the format as Ant and Surefire write it (common practice; it has no published standard). */
import { create } from 'xmlbuilder';
import { xmlAllowed } from '../formats/xml-text';
import { countText, type Report } from './report';

/** Shape: a suite for each group of cases, in the order of first sight; a document of UTF-8. */
export const junitText = ({ command, title, cases, results }: Report): string => {
  const root = create('testsuites', { version: '1.0', encoding: 'UTF-8' });
  root.att('name', xmlAllowed(title));
  root.att('tests', cases.length).att('failures', cases.filter((c) => c.state === 'failed').length);
  const groups = new Map<string, (typeof cases)[number][]>();
  for (const c of cases) groups.set(c.group, [...(groups.get(c.group) ?? []), c]);
  for (const [name, own] of groups) {
    const suite = root.ele('testsuite', {
      name: xmlAllowed(name),
      tests: own.length,
      failures: own.filter((c) => c.state === 'failed').length,
      errors: 0,
      skipped: own.filter((c) => c.state === 'skipped').length,
    });
    for (const c of own) {
      const element = suite.ele('testcase', {
        classname: xmlAllowed(`${command}.${name}`),
        name: xmlAllowed(c.name),
        ...(c.place ? { file: xmlAllowed(c.place.file), ...(c.place.line === undefined ? {} : { line: c.place.line }) } : {}),
      });
      if (c.state === 'failed') element.ele('failure', { message: xmlAllowed(c.text.split('\n')[0] ?? '') }).txt(xmlAllowed(c.text));
      if (c.state === 'skipped') element.ele('skipped', c.text === '' ? {} : { message: xmlAllowed(c.text) });
    }
  }
  root.com(xmlAllowed(` ${countText(results)} `).replaceAll('--', '- -'));
  return `${root.end({ pretty: true })}\n`;
};
