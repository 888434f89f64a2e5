/** The rules over the plan, and the checks of what arrives, as rows: severity and off switch of each, and what else can be set. */
import { isWithin, valuesOf, type Parameters } from '../../arrival/check';
import { checkOf } from '../../arrival/words';
import { SEVERITIES } from '../../findings/severity';
import { ruleOf } from '../../lint/lint';
import type { Id, Plan } from '../plan';
import { settingOf, withRule } from './exceptions';
import { flagOf, readOnly, type Field } from './field';

const wordsOf = (id: Id) => ruleOf(id) ?? checkOf(id);

const severityAndSwitch: readonly Field[] = [
  {
    key: 'severity',
    title: 'Severity',
    width: 90,
    editor: 'choice',
    options: () => SEVERITIES,
    read: (plan, id) => settingOf(plan, id).severity ?? wordsOf(id)?.severity ?? '',
    write: (plan, id, text) => {
      const found = SEVERITIES.find((s) => s === text.trim().toLowerCase());
      if (!found) return `“${text}” is not a severity; choose ${SEVERITIES.join(', ')}.`;
      const { severity: _, ...rest } = settingOf(plan, id);
      return withRule(plan, id, found === wordsOf(id)?.severity ? rest : { ...rest, severity: found });
    },
  },
  {
    key: 'on',
    title: 'On',
    width: 60,
    editor: 'flag',
    options: () => ['yes', 'no'],
    read: (plan, id) => (settingOf(plan, id).off ? 'no' : 'yes'),
    write: (plan, id, text) => {
      const on = flagOf(text);
      if (on === undefined) return `“${text}” is neither yes nor no.`;
      const { off: _, ...rest } = settingOf(plan, id);
      return withRule(plan, id, on ? rest : { ...rest, off: true });
    },
  },
];

export const ruleFields: readonly Field[] = [
  readOnly('title', { title: 'Rule', width: 320 }, (_, id) => ruleOf(id)?.title ?? id),
  ...severityAndSwitch,
  readOnly('exceptions', { title: 'Exceptions', width: 90 }, (plan, id) => String(settingOf(plan, id).exceptions?.length ?? 0)),
  readOnly('why', { title: 'Why it matters', width: 780 }, (_, id) => ruleOf(id)?.why ?? ''),
];

const parametersText = (plan: Plan, id: Id): string => {
  const parameters = checkOf(id)?.parameters ?? {};
  const values = valuesOf(parameters, settingOf(plan, id));
  return Object.entries(parameters)
    .map(([name, { unit }]) => `${name} ${values[name]!}${unit === '' ? '' : ` ${unit}`}`)
    .join('; ');
};

/** `name number unit; …` read back; one that is left out is that of the check.
 *  Errors: a sentence that says which part is not understood, and what would be.
 */
const readParameters = (parameters: Parameters, text: string): Record<string, number> | string => {
  const out: Record<string, number> = {};
  const names = Object.keys(parameters);
  if (names.length === 0) return text.trim() === '' ? out : 'This check has nothing to set.';
  for (const part of text.split(';').map((p) => p.trim())) {
    if (part === '') continue;
    const [, name = '', digits = '', unit = ''] = /^([^\s=]+)\s*=?\s*(\S*)\s*(.*)$/.exec(part) ?? [];
    const p = Object.hasOwn(parameters, name) ? parameters[name] : undefined;
    if (!p) return `“${part}” is not understood; write a number behind ${names.join(', ')}, with ; between them.`;
    const n = Number(digits);
    if (digits === '' || !isWithin(p, n))
      return `“${part}”: ${name} is a ${p.whole ? 'whole ' : ''}number from ${p.min} to ${p.max.toLocaleString('en-GB')}${p.unit === '' ? '' : ` ${p.unit}`}.`;
    if (unit !== '' && unit !== p.unit) return `“${part}”: ${name} is ${p.unit === '' ? 'a number without a unit' : `in ${p.unit}`}.`;
    if (n !== p.value) out[name] = n;
  }
  return out;
};

export const checkFields: readonly Field[] = [
  readOnly('title', { title: 'Check', width: 262 }, (_, id) => checkOf(id)?.title ?? id),
  ...severityAndSwitch,
  {
    key: 'parameters',
    title: 'Numbers',
    width: 310,
    editor: 'text',
    read: parametersText,
    write: (plan, id, text) => {
      const own = readParameters(checkOf(id)?.parameters ?? {}, text);
      if (typeof own === 'string') return own;
      const { parameters: _, ...rest } = settingOf(plan, id);
      return withRule(plan, id, Object.keys(own).length === 0 ? rest : { ...rest, parameters: own });
    },
  },
  readOnly('meaning', { title: 'What the numbers mean', width: 420 }, (_, id) =>
    Object.entries(checkOf(id)?.parameters ?? {})
      .map(([name, p]) => `${name}: ${p.title[0]!.toLowerCase()}${p.title.slice(1)}`)
      .join('; '),
  ),
  readOnly('why', { title: 'Why it matters', width: 620 }, (_, id) => checkOf(id)?.why ?? ''),
];
