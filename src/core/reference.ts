/** A page about each rule and each check, made from its own file: shown where its findings stand, and written to docs/. */
import { messageChecks, valueChecks } from './arrival/checks/index';
import { manyChecks } from './arrival/many/index';
import type { CheckWords, Parameters } from './arrival/check';
import type { Example } from './findings/finding';
import type { Severity } from './findings/severity';
import type { Rule } from './lint/rule';
import { rules } from './lint/rules/index';

export type ReferenceKind = 'rule' | 'check on a message' | 'check over many messages';

export interface ReferencePage {
  readonly id: string;
  readonly kind: ReferenceKind;
  readonly title: string;
  readonly why: string;
  /** Unless the workspace says otherwise. */
  readonly severity: Severity;
  readonly method: string;
  /** Where the method is from; empty where nothing but this product says so. */
  readonly source: string;
  readonly parameters: Parameters;
  readonly example: Example;
}

const ON_VALUE =
  'Each value of a planned property, also of user properties and inside of objects. Of the checks on a value the first that finds something speaks.';
const ON_PART: Readonly<Record<string, string>> = {
  value: ON_VALUE,
  name: 'The name of each event that arrives.',
  'no identifiers': 'Each message, of whatever kind.',
  'sample rate': 'Each message that says from which share of devices it was sent.',
  'lost before': 'Each message that says how many were let go before it.',
  identifier: 'Each identifier of a message. Placeholders are told before; of the other checks the first that finds something speaks.',
  'unplanned kind': 'The kind of each identifier of a message.',
  'missing property': 'Each message of a planned event, also inside of objects. A former name of the property counts as the property.',
  'unplanned property': 'Each name among the properties of a planned event that is not planned in its place.',
  'unplanned user property': 'Each name among the user properties of a message that is not planned in its place.',
};

const IN_PLAN = 'The plan, after each change. What is retired is left out, and so is what the workspace excepts with a reason.';

/** A method as it is written ends with its source. */
const methodOf = (written: string): Pick<ReferencePage, 'method' | 'source'> => {
  const [method = '', source = ''] = written.split(/ Source: (?=[^.]*\.$)/);
  return { method, source };
};

const ofRule = (r: Rule<string, unknown>): ReferencePage => ({
  id: r.id,
  kind: 'rule',
  title: r.title,
  why: r.why,
  severity: r.severity,
  ...methodOf(r.method ?? IN_PLAN),
  parameters: {},
  example: r.example,
});

const ofCheck = (c: CheckWords<string, unknown> & { readonly on: string }): ReferencePage => ({
  id: c.id,
  kind: c.on === 'many' ? 'check over many messages' : 'check on a message',
  title: c.title,
  why: c.why,
  severity: c.severity,
  ...methodOf(c.method ?? ON_PART[c.on] ?? ''),
  parameters: c.parameters ?? {},
  example: c.example,
});

export const REFERENCE: readonly ReferencePage[] = [
  ...(rules as readonly object[] as readonly Rule<string, unknown>[]).map(ofRule),
  ...(
    [...valueChecks, ...messageChecks, ...manyChecks] as readonly object[] as readonly (CheckWords<string, unknown> & {
      readonly on: string;
    })[]
  ).map(ofCheck),
];

export const referenceOf = (id: string): ReferencePage | undefined => REFERENCE.find((p) => p.id === id);

/** A parameter in a line: what it is, and within what it can be set. */
export const parameterText = ({ title, unit, value, min, max }: Parameters[string]): string => {
  const n = (v: number): string => `${v.toLocaleString('en-GB', { maximumSignificantDigits: 4 })}${unit === '' ? '' : ` ${unit}`}`;
  return `${title}: ${n(value)}, to be set from ${n(min)} to ${n(max)}`;
};

/** The page as a file of docs/. */
export const referenceMarkdown = (p: ReferencePage): string =>
  [
    `# ${p.title}`,
    `\`${p.id}\`, ${p.kind}; ${p.severity} unless the workspace says otherwise.`,
    `**Why.** ${p.why}`,
    `**What is looked at.** ${p.method}`,
    ...(p.source === '' ? [] : [`**Source.** ${p.source}`]),
    ...(Object.keys(p.parameters).length > 0
      ? [
          `**Parameters.**\n\n${Object.values(p.parameters)
            .map((x) => `- ${parameterText(x)}`)
            .join('\n')}`,
        ]
      : []),
    `**Found:** ${p.example.wrong}`,
    `**Passes:** ${p.example.right}`,
  ].join('\n\n') + '\n';

/** Where its file is under docs/. */
export const referencePath = (p: ReferencePage): string => `${p.kind === 'rule' ? 'rules' : 'checks'}/${p.id}.md`;
