/** Typed calls: a plan version as TypeScript, one function for each event. What is misspelt, missing, or in another unit does not compile. */
import {
  settingsOf,
  propertiesOf,
  entries,
  isLive,
  type Id,
  type PlannedProperty,
  type Plan,
  type PlanEvent,
  type Property,
  type UserProperty,
} from '../../plan/plan';
import { standingIn, withOuters } from '../../plan/outers';
import { refText, sameRef, refOfProperty } from '../../plan/property-path';
import { isNumeric } from '../../plan/property-type';
import { UNITS } from '../../plan/unit';
import type { WrittenPlan } from '../format';
import { identifiers, keyText } from './identifier';

/** A count needs no unit to be told from other numbers. */
const BARE = new Set(['', 'count']);

const brandOf = (symbol: string): string => {
  const title = UNITS.get(symbol)?.title ?? symbol;
  const words = (/^[a-z ]+$/.test(title) && title.split(' ').length === 1 ? title : symbol).match(/[\p{L}\p{N}]+/gu) ?? ['unit'];
  return words.map((w, i) => (i === 0 ? w.toLowerCase() : w[0]!.toUpperCase() + w.slice(1))).join('');
};

/** Lines of a comment; none of them ends it. */
const comment = (lines: readonly string[], indent = ''): string => {
  const text = lines.filter((l) => l.trim() !== '').map((l) => l.replaceAll('*/', '*\u200b/').replaceAll(/\s*\n\s*/g, ' '));
  if (text.length === 0) return '';
  return text.length === 1
    ? `${indent}/** ${text[0]} */\n`
    : `${indent}/**\n${text.map((l) => `${indent} * ${l}\n`).join('')}${indent} */\n`;
};

const literal = (type: string, text: string): string =>
  isNumeric(type as Property['type']) || type === 'boolean' ? text : JSON.stringify(text);

interface Typed {
  readonly type: Property['type'];
  readonly unit: string;
  readonly allowed: readonly string[];
}

/** The type of one value. A list of allowed values is a union; a number with a unit is made by the unit’s own function. */
const scalarType = ({ type, unit, allowed }: Typed): string => {
  const item = type.replace('list of ', '');
  const isList = type !== item;
  const readable = item !== 'boolean' || allowed.every((v) => v === 'true' || v === 'false');
  const listed = allowed.filter((v) => !isNumeric(item as Property['type']) || (v.trim() !== '' && Number.isFinite(Number(v))));
  const one =
    listed.length > 0 && readable
      ? listed.map((v) => literal(item, v.trim() === '' ? v : isNumeric(item as Property['type']) ? String(Number(v)) : v)).join(' | ')
      : item === 'integer' || item === 'number'
        ? BARE.has(unit)
          ? 'number'
          : `In<'${brandOf(unit)}'>`
        : item === 'timestamp'
          ? 'Timestamp'
          : item === 'object'
            ? 'Values'
            : item;
  return isList ? (one.includes('|') ? `readonly (${one})[]` : `readonly ${one}[]`) : one;
};

const about = (p: Property | UserProperty, required: boolean | undefined): string[] => {
  const range = 'min' in p && (p.min !== undefined || p.max !== undefined) ? `From ${p.min ?? 'any'} to ${p.max ?? 'any'}.` : '';
  const pattern = 'pattern' in p && p.pattern !== '' ? `Matches ${p.pattern}` : '';
  const unit = p.unit === '' ? '' : `Unit: ${p.unit} (${UNITS.get(p.unit)?.title ?? p.unit}).`;
  const whole = p.type.endsWith('integer') ? 'A whole number.' : '';
  const samples =
    p.samples.length > 0
      ? `For example ${p.samples
          .slice(0, 3)
          .map((s) => `\`${s}\``)
          .join(', ')}.`
      : '';
  const personal = p.personalData === 'none' ? '' : `Personal data: ${p.personalData}.`;
  return [p.description, [required === false ? 'Optional.' : '', whole, unit, range, personal].filter(Boolean).join(' '), pattern, samples];
};

const typeText = (planned: readonly PlannedProperty[], path: readonly string[], indent: string): string => {
  const own = standingIn(planned, path).filter((p) => p.property.name !== '');
  const lines = own.map(({ property: p, required }) => {
    const at = [...path, p.name];
    const inner = p.type === 'object' && standingIn(planned, at).length > 0;
    const type = inner ? typeText(planned, at, `${indent}  `) : scalarType(p);
    return `${comment(about(p, required), `${indent}  `)}${indent}  readonly ${keyText(p.name)}${required ? '' : '?'}: ${type};\n`;
  });
  return lines.length === 0 ? '{ readonly [name: string]: never }' : `{\n${lines.join('')}${indent}}`;
};

/** What of an event's properties tells the steps of its series apart, as an expression over `properties`. */
const milestoneText = (event: PlanEvent, planned: readonly PlannedProperty[]): string | undefined => {
  const ref = event.series?.property;
  if (ref === undefined || !planned.some((p) => sameRef(refOfProperty(p.property), ref))) return undefined;
  return typeof ref === 'string'
    ? `properties[${JSON.stringify(ref)}]`
    : `properties${ref.map((s) => `?.[${JSON.stringify(s)}]`).join('')}`;
};

/** The events that are still sent, by name, so that the same plan gives the same text. */
const sentEvents = (plan: Plan, sourceId: Id | undefined): readonly (readonly [Id, PlanEvent])[] =>
  entries(plan, 'event')
    .filter(([, e]) => e.name !== '' && isLive(e))
    .filter(([, e]) => sourceId === undefined || e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired'))
    .sort(([i, a], [j, b]) => (a.name < b.name ? -1 : a.name > b.name ? 1 : i < j ? -1 : 1));

/** A plan version as TypeScript.
 *  Shape: with `sourceId` the events of that source alone. One file that imports the sender; its functions take a sender and the properties under
 *  their wire names. Ends with a line feed, and is byte for byte the same for the same plan.
 *  Errors: none; names that are no identifiers, or would be one, are told apart (`identifiers`).
 */
export const typescriptOf = ({ plan, number, contentHash }: WrittenPlan, sourceId?: Id): string => {
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const events = sentEvents(plan, sourceId);
  const names = identifiers(
    [...new Set(events.map(([, e]) => e.name))],
    [
      'In',
      'Timestamp',
      'Values',
      'More',
      'Calls',
      'Sender',
      'SenderOptions',
      'PLAN',
      'units',
      'timestamp',
      'senderFor',
      'identify',
      'UserProperties',
      'createSender',
      'EVENTS',
    ],
  );
  const users = entries(plan, 'userProperty')
    .filter(([, u]) => u.name !== '' && !u.retired && (u.within ?? []).length === 0)
    .filter(([, u]) => sourceId === undefined || u.sources.length === 0 || u.sources.includes(sourceId))
    .sort(([, a], [, b]) => (a.name < b.name ? -1 : 1));
  const used = new Set<string>();
  const isOfUnit = (p: Typed): boolean => isNumeric(p.type.replace('list of ', '') as Property['type']) && !BARE.has(p.unit);
  const seen = new Set<string>();
  const bodies = events.flatMap(([, e]) => {
    // Two of one name are one event on the wire.
    if (seen.has(e.name)) return [];
    seen.add(e.name);
    const planned = withOuters(propertiesOf(plan, e).filter((p) => !p.property.retired));
    for (const { property } of planned) if (isOfUnit(property)) used.add(property.unit);
    const { small, large } = names.get(e.name)!;
    const milestone = milestoneText(e, planned);
    const own = standingIn(planned, []).filter((p) => p.property.name !== '');
    const sources = e.sources.map((s) => plan.source[s.sourceId]?.name ?? s.sourceId);
    const doc = comment([
      `\`${e.name}\`${e.description === '' ? '' : `: ${e.description}`}`,
      e.trigger === '' ? '' : `Trigger: ${e.trigger}`,
      e.scope === '' ? '' : `Only under ${e.scope}.`,
      e.oncePer === '' ? '' : `At most once per ${e.oncePer}.`,
      sources.length === 0 ? '' : `Sent by ${sources.join(', ')}.`,
    ]);
    const given = own.some((p) => p.required) ? 'properties: ' : 'properties?: ';
    const more =
      milestone === undefined
        ? 'more'
        : `{ ...more, oncePerView: ${JSON.stringify(`${e.name} `)} + String(${given === 'properties: ' ? milestone : milestone.replace('properties', 'properties?.')}) }`;
    const argument = own.length === 0 ? '' : `${given}${large}, `;
    return [
      `${own.length === 0 ? '' : `export type ${large} = ${typeText(planned, [], '')};\n`}${doc}export const ${small} = (to: Calls, ${argument}more?: More): void =>\n  to.event(${JSON.stringify(e.name)}, ${own.length === 0 ? '{}' : 'properties'}, ${more});\n`,
    ];
  });
  for (const [, u] of users) if (isOfUnit(u)) used.add(u.unit);
  const brands = [...new Set([...used].map(brandOf))].sort();
  const userType =
    users.length === 0
      ? ''
      : `\n/** What is known of somebody. */\nexport type UserProperties = {\n${users.map(([, u]) => `${comment(about(u, undefined), '  ')}  readonly ${keyText(u.name)}?: ${scalarType(u)};\n`).join('')}};\n\n/** Somebody is known now. */\nexport const identify = (to: Calls, user: string, userProperties?: UserProperties): void => to.identify(user, userProperties);\n`;
  const version = number > 0 ? `version ${number}` : 'the draft';
  return `// Typed calls for ${version} of the tracking plan “${settingsOf(plan).name.replaceAll(/[\r\n\u2028\u2029]/g, ' ')}”${source ? `, source ${source.name.replaceAll(/[\r\n\u2028\u2029]/g, ' ')}` : ''}. Generated: change the plan, not this file.
// Plan ${contentHash}
import { createSender, type Calls, type More, type Sender, type SenderOptions${/\bValues\b/.test(bodies.join('') + userType) ? ', type Values' : ''} } from 'signal-post-sender';

/** The plan that this file was generated from. It is sent along, so that arrivals know which version a build was made from. */
export const PLAN = { version: ${number}, hash: ${JSON.stringify(contentHash)} } as const;

/** A sender whose messages say that they were made from this plan. */
export const senderFor = (options: Omit<SenderOptions, 'plan'>): Sender => createSender({ ...options, plan: PLAN });

declare const unit: unique symbol;
/** A number of a unit: made by one of \`units\`, so that no other number passes for it. */
export type In<U extends string> = number & { readonly [unit]: U };
${brands.length === 0 ? '' : `export const units = {\n${brands.map((b) => `  ${keyText(b)}: (n: number): In<'${b}'> => n as In<'${b}'>,\n`).join('')}};\n`}
/** A date and time with a zone, as in RFC 3339. */
export type Timestamp = \`\${number}-\${number}-\${number}T\${string}\`;
export const timestamp = (at: Date): Timestamp => at.toISOString() as Timestamp;

/** Every event of this file: the name of its function, and its name on the wire. */
export const EVENTS = {
${[...names].map(([name, { small }]) => `  ${keyText(small)}: ${JSON.stringify(name)},\n`).join('')}} as const;

${bodies.join('\n')}${userType}`;
};

/** The call of an event as somebody would write it. What is in double braces is to be replaced, and is no value that could be sent by mistake. */
export const callText = (plan: Plan, event: PlanEvent): string => {
  const { small } = identifiers([event.name]).get(event.name)!;
  const planned = withOuters(propertiesOf(plan, event).filter((p) => !p.property.retired));
  const at = (path: readonly string[], indent: string): string =>
    standingIn(planned, path)
      .map(({ property: p }) => {
        const inner = [...path, p.name];
        const nested = p.type === 'object' && standingIn(planned, inner).length > 0;
        const open = `'{{${refText(refOfProperty(p)).replaceAll("'", '’')}}}'`;
        const value = nested
          ? `{\n${at(inner, `${indent}  `)}${indent}}`
          : scalarType(p).startsWith('In<')
            ? `units.${brandOf(p.unit)}(${open})`
            : open;
        return `${indent}${keyText(p.name)}: ${value}, // ${[p.type, p.unit, p.samples.length > 0 ? `such as ${p.samples[0]}` : ''].filter(Boolean).join(', ').replaceAll('\n', ' ')}\n`;
      })
      .join('');
  return planned.length === 0 ? `${small}(sender);\n` : `${small}(sender, {\n${at([], '  ')}});\n`;
};

/** Everything in double braces in a text, once each, in order: what is to be replaced. */
export const placeholdersIn = (text: string): string[] => [...new Set([...text.matchAll(/\{\{([^{}]+)\}\}/g)].map((m) => m[1]!))];
