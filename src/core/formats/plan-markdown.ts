/** The plan as a document for readers: Markdown. */
import { constraintText } from './ticket';
import { fromText } from '../hand-off/must-not';
import { entries, isLive, settingsOf, type Plan } from '../plan/plan';
import { plannedPropertiesOf } from '../plan/plan-index';
import { coverageOf, questionsServedBy } from '../questions/coverage';
import { formulaSentence } from '../questions/formulas/index';
import { refOfProperty, refText } from '../plan/property-path';

/** Text that stays text: no tag of HTML is in it. */
const plain = (s: string): string => s.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
const cell = (s: string): string => plain(s).replaceAll('\\', '\\\\').replaceAll('|', '\\|').replaceAll('\n', ' ');
/** A name as code; one that holds the sign of code is fenced by two. Source: CommonMark 0.31, 6.1. */
const code = (s: string): string => (s.includes('`') ? `\`\` ${s} \`\`` : `\`${s}\``);

/** Questions, events by flow with their properties, user properties and sources. Ends with a line feed. */
export const planMarkdown = (plan: Plan, version: number): string => {
  const lines: string[] = [
    `# ${plain(settingsOf(plan).name)}: tracking plan`,
    '',
    version > 0 ? `Version ${version}.` : 'Draft.',
    '',
    '## Questions',
    '',
  ];
  for (const [, q] of entries(plan, 'question').sort(([, a], [, b]) => a.order - b.order)) {
    const { state } = coverageOf(plan, q);
    lines.push(
      `- **${plain(q.text)}** (${state})${q.formula ? `: ${plain(formulaSentence(q.formula))}.` : '.'}${q.decision ? ` Serves: ${plain(q.decision)}.` : ''}`,
    );
  }
  const flows = new Map<string, string[]>();
  for (const [id, e] of entries(plan, 'event').sort(([, a], [, b]) => a.order - b.order))
    if (isLive(e)) flows.set(e.flow, [...(flows.get(e.flow) ?? []), id]);
  for (const [flow, ids] of flows) {
    lines.push('', `## ${plain(flow) || 'No flow'}`);
    for (const id of ids) {
      const e = plan.event[id]!;
      const served = questionsServedBy(plan, e.name);
      const sources = e.sources.map((s) => `${plan.source[s.sourceId]?.name ?? s.sourceId}${s.required ? '' : ' (optional)'}`);
      lines.push(
        '',
        `### ${plain(e.name)}`,
        '',
        plain(e.description) || 'Not described yet.',
        '',
        `- **Trigger:** ${plain(e.trigger) || 'not written yet'}`,
      );
      if (sources.length > 0) lines.push(`- **Sent by:** ${plain(sources.join(', '))}`);
      if (e.owner) lines.push(`- **Owner:** ${plain(e.owner)}`);
      if (e.counterpart)
        lines.push(
          `- **Confirmed by:** ${code(e.counterpart.eventName)}${plain(fromText(plan, e.counterpart.eventName))} by ${code(refText(e.counterpart.keyProperty))}`,
        );
      if (served.length > 0) lines.push(`- **Serves:** ${served.map(([, q]) => plain(q.text)).join('; ')}`);
      const planned = plannedPropertiesOf(plan, id);
      if (planned.length > 0)
        lines.push(
          '',
          '| property | required | type | meaning | samples |',
          '|---|---|---|---|---|',
          ...planned.map(
            ({ property: p, required }) =>
              `| ${code(refText(refOfProperty(p)))} | ${required ? 'yes' : 'no'} | ${cell(constraintText(p))} | ${cell(p.description)} | ${cell(p.samples.map((s) => `\`${s}\``).join(', '))} |`,
          ),
        );
    }
  }
  const users = entries(plan, 'userProperty').filter(([, u]) => !u.retired);
  if (users.length > 0) {
    lines.push('', '## User properties', '', '| name | type | registered | meaning |', '|---|---|---|---|');
    for (const [, u] of users) lines.push(`| ${code(u.name)} | ${u.type} | ${u.registered ? 'yes' : 'no'} | ${cell(u.description)} |`);
  }
  lines.push('', '## Sources', '', '| source | kind | owner | identifiers after sign-in |', '|---|---|---|---|');
  for (const [, s] of entries(plan, 'source'))
    lines.push(`| ${cell(s.name)} | ${s.kind} | ${cell(s.owner)} | ${cell(s.idKinds.afterSignIn.join(', '))} |`);
  return `${lines.join('\n')}\n`;
};
