/** A plan version, compiled to a checker: closures per event and property, no generated code.
 *  Long because the fast path and the full checks of a value are one decision; the checks themselves are in checks/.
 */
import type { Severity } from '../findings/severity';
import { isPlaceholder } from '../identity/placeholder';
import { entries, propertiesOf, settingsOf, type Plan, type PlanEvent, type PlannedProperty, type Property } from '../plan/plan';
import { formerName } from './checks/former-name';
import { propertyMissing } from './checks/property-missing';
import { unknownEvent, unknownEventParams, type UnknownEvent } from './checks/unknown-event';
import type { Message } from './message';
import type { MessageFinding } from './message-finding';
import { identifierTest, lookedInto, pageTest, unplannedTest, unplannedValueTest, valueTests, type SeverityOf } from './message-tests';
import { userPropertyTest } from './user-property-tests';
import { mayBePersonal } from './personal-data';
import { isUuid } from '../plan/sample';
import { isInstant } from '../plan/property-type';
import { standingIn, withOuters } from '../plan/outers';
import { isObject, pathOf, refOf, refOfProperty } from '../plan/property-path';

/** What a value of a property usually is; told by one look, without a call. All else goes through the checks. */
const NO_USUAL = 0;
const TEXT = 1;
const LISTED = 2;
const WHOLE = 3;
const NUMERIC = 4;
const YES_OR_NO = 5;
const INSTANT = 6;
const UUID = 7;

interface CompiledProperty {
  /** Bit of a required property; 0 where it is optional or beyond the 30th. */
  readonly bit: number;
  readonly usual: number;
  readonly allowed: readonly string[];
  readonly low: number;
  readonly high: number;
  /** Longer texts that were found usual: most properties have few values, and one that is known is told by one look. Nothing is kept of a
   *  property with many.
   */
  known: Set<string> | undefined;
  unknown: number;
  readonly test: (value: unknown) => MessageFinding | undefined;
  /** What is planned inside of it, where it is an object. */
  readonly inner: Level | undefined;
  /** What is said of its name, where that is a former one; and the present one. */
  readonly former?: MessageFinding | undefined;
  readonly now?: string;
}

/** What is planned at one place: in the message itself, or inside of an object. */
interface Level {
  /** The names on the way there. */
  readonly path: readonly string[];
  readonly properties: Map<string, CompiledProperty>;
  /** The keys of the last message, in its order, with what they were found to be: the next message mostly has the same. */
  readonly keys: string[];
  readonly found: (CompiledProperty | undefined)[];
  readonly required: readonly string[];
  readonly mask: number;
  /** What is said of names that are not planned, by name. */
  readonly others: Map<string, ReturnType<ReturnType<typeof unplannedTest>>>;
}

export interface Checker {
  /** The findings on a message, in the order of its own keys, then what is missing. An empty array is shared: do not change it. */
  check(
    message: Pick<Message, 'kind' | 'name' | 'ids' | 'properties'> & Partial<Pick<Message, 'userProperties' | 'page'>>,
  ): readonly MessageFinding[];
  /** Whether the plan knows an event of this name. */
  knows(name: string): boolean;
}

const NONE: readonly MessageFinding[] = Object.freeze([]);
const REMEMBERED_NAMES = 10_000;
const MOST_KEYS = 64;

const compileProperty = (property: Property, severityOf: SeverityOf) => {
  const tests = valueTests(property, severityOf, ['properties', ...pathOf(refOfProperty(property))]);
  const [a, b] = tests;
  if (!a) return () => undefined;
  if (!b) return a;
  if (tests.length === 2) return (v: unknown) => a(v) ?? b(v);
  return (v: unknown) => {
    for (const t of tests) {
      const found = t(v);
      if (found) return found;
    }
    return undefined;
  };
};

const MOST_LISTED = 12;

const usualOf = (p: Property): Pick<CompiledProperty, 'usual' | 'allowed' | 'low' | 'high'> => {
  const range = { low: p.min ?? -Infinity, high: p.max ?? Infinity };
  const listed = p.allowed.length > 0;
  const numeric = p.type === 'integer' ? WHOLE : p.type === 'number' ? NUMERIC : NO_USUAL;
  if (p.type === 'boolean' && !listed) return { usual: YES_OR_NO, allowed: [], ...range };
  if (p.type === 'timestamp' && !listed) return { usual: INSTANT, allowed: [], ...range };
  if (p.type === 'string' && p.format === 'UUID' && p.pattern === '' && !listed) return { usual: UUID, allowed: [], ...range };
  if (p.type === 'string' && (p.pattern !== '' || p.format !== '')) return { usual: NO_USUAL, allowed: [], ...range };
  if (p.type === 'string' && (!listed || p.allowed.length <= MOST_LISTED))
    return { usual: listed ? LISTED : TEXT, allowed: p.allowed, ...range };
  return { usual: listed ? NO_USUAL : numeric, allowed: [], ...range };
};

const LEAST_KNOWN_LENGTH = 12;
const MOST_KNOWN_LENGTH = 100;
const MOST_KNOWN = 64;
const MOST_UNKNOWN = 1000;

const isUsualText = (p: CompiledProperty, v: string): boolean => {
  const known = v.length > LEAST_KNOWN_LENGTH ? p.known : undefined;
  if (known?.has(v)) return true;
  if (!(v.charCodeAt(0) > 32) || isPlaceholder(v) || mayBePersonal(v)) return false;
  if (known && v.length <= MOST_KNOWN_LENGTH) {
    if (known.size < MOST_KNOWN) known.add(v);
    else if (++p.unknown > MOST_UNKNOWN) p.known = undefined;
  }
  return true;
};

/** Whether a value is as usual: then no check finds anything. */
const isUsual = (p: CompiledProperty, v: unknown): boolean => {
  switch (p.usual) {
    case TEXT:
      return typeof v === 'string' && isUsualText(p, v);
    case LISTED: {
      const { allowed } = p;
      for (let i = 0; i < allowed.length; i++) if (allowed[i] === v) return true;
      return false;
    }
    case WHOLE:
      return Number.isInteger(v) && (v as number) >= p.low && (v as number) <= p.high;
    case NUMERIC:
      return typeof v === 'number' && v >= p.low && v <= p.high;
    case YES_OR_NO:
      return typeof v === 'boolean';
    case INSTANT:
      return typeof v === 'string' && isInstant(v);
    case UUID:
      return typeof v === 'string' && isUuid(v);
    default:
      return false;
  }
};

/** Whether a property stands there under a former name. */
const hasFormer = (level: Level, name: string, properties: Message['properties']): boolean => {
  for (const key in properties) if (level.properties.get(key)?.now === name) return true;
  return false;
};

const compileLevel = (planned: readonly PlannedProperty[], path: readonly string[], severityOf: SeverityOf): Level => {
  const properties = new Map<string, CompiledProperty>();
  const required: string[] = [];
  let mask = 0;
  const own = standingIn(planned, path);
  for (const p of own) {
    if (p.property.name === '') continue;
    const at = [...path, p.property.name];
    const inner = standingIn(planned, at).length > 0 ? compileLevel(planned, at, severityOf) : undefined;
    const bit = p.required && required.length < 30 ? 1 << required.length : 0;
    if (p.required) required.push(p.property.name);
    mask |= bit;
    properties.set(p.property.name, {
      bit,
      ...usualOf(p.property),
      known: new Set(),
      unknown: 0,
      test: compileProperty(inner ? lookedInto(p.property) : p.property, severityOf),
      inner,
    });
  }
  const outdated = severityOf(formerName);
  for (const { property } of own) {
    const compiled = properties.get(property.name);
    for (const name of property.formerNames) {
      if (!compiled || properties.has(name)) continue;
      const params = { name: refOf([...path, name]), now: refOf([...path, property.name]), property: true };
      const former =
        outdated === undefined
          ? undefined
          : ({ code: formerName.id, severity: outdated, path: ['properties', ...path, name], params } as const);
      properties.set(name, { ...compiled, known: new Set(), former, now: property.name });
    }
  }
  return { path, properties, keys: [], found: [], required, mask, others: new Map() };
};

const compileEvent = (plan: Plan, event: PlanEvent, severityOf: SeverityOf): Level =>
  compileLevel(withOuters(propertiesOf(plan, event)), [], severityOf);

/** Compiles a plan to a checker.
 *  Shape: one value gives at most one finding: a placeholder is not also a wrong value. Former names of an event are known names, with a
 *  finding of their own. Checks that the workspace switched off are left out.
 */
export const compileChecker = (plan: Plan): Checker => {
  const { rules } = settingsOf(plan);
  const severityOf: SeverityOf = ({ id, severity }): Severity | undefined =>
    rules[id]?.off ? undefined : (rules[id]?.severity ?? severity);
  const events = new Map<string, Level>();
  /** Former name → the name of now. */
  const former = new Map<string, string>();
  for (const [, e] of entries(plan, 'event')) {
    const compiled = compileEvent(plan, e, severityOf);
    for (const name of e.formerNames)
      if (!events.has(name)) {
        events.set(name, compiled);
        former.set(name, e.name);
      }
    if (e.name === '') continue;
    events.set(e.name, compiled);
    former.delete(e.name);
  }
  const planned = entries(plan, 'event').map(([, e]) => e.name);
  const missing = severityOf(propertyMissing);
  const unknown = severityOf(unknownEvent);
  const outdated = severityOf(formerName);
  const testIds = identifierTest(plan, severityOf);
  const testUserProperties = userPropertyTest(plan, severityOf);
  const describeUnplanned = unplannedTest(plan, severityOf);
  const testUnplanned = unplannedValueTest(severityOf);
  const testPage = pageTest(severityOf);
  const unknownNames = new Map<string, UnknownEvent>();

  const describeUnknown = (name: string): UnknownEvent => {
    let params = unknownNames.get(name);
    if (!params) {
      params = unknownEventParams(name, planned);
      if (unknownNames.size < REMEMBERED_NAMES) unknownNames.set(name, params);
    }
    return params;
  };

  /** What no plan describes is looked through all the same: an unknown event, a view, an interaction. */
  const unplannedIn = (properties: Message['properties'], before: MessageFinding[] | undefined): MessageFinding[] | undefined => {
    let found = before;
    for (const key in properties) {
      const f = testUnplanned(key, properties[key]);
      if (f) (found ??= []).push(f);
    }
    return found;
  };

  return {
    knows: (name) => events.has(name),
    check(message) {
      let found: MessageFinding[] | undefined;
      const { ids, properties, userProperties } = message;
      const onIds = testIds(ids);
      if (onIds.length > 0) found = [...onIds];
      if (userProperties) {
        const onUser = testUserProperties(userProperties);
        if (onUser.length > 0) (found ??= []).push(...onUser);
      }
      if (message.page) {
        const onPage = testPage(message.page);
        if (onPage) (found ??= []).push(onPage);
      }
      if (message.kind !== 'event') return unplannedIn(properties, found) ?? NONE;
      const event = events.get(message.name);
      if (!event) {
        if (unknown !== undefined)
          (found ??= []).push({ code: 'unknown-event', severity: unknown, path: ['name'], params: describeUnknown(message.name) });
        return unplannedIn(properties, found) ?? NONE;
      }
      if (former.size > 0 && outdated !== undefined) {
        const now = former.get(message.name);
        if (now !== undefined)
          (found ??= []).push({ code: formerName.id, severity: outdated, path: ['name'], params: { name: message.name, now } });
      }
      return look(event, properties, ids, found) ?? NONE;
    },
  };

  /** What is to be said of the values at one place, after what was said before. */
  function look(
    event: Level,
    properties: Message['properties'],
    ids: Message['ids'],
    before: MessageFinding[] | undefined,
  ): MessageFinding[] | undefined {
    let found = before;
    let seen = 0;
    let i = 0;
    const { keys, found: at, path } = event;
    for (const key in properties) {
      let p: CompiledProperty | undefined;
      if (keys[i] === key) p = at[i];
      else if (i < MOST_KEYS) {
        p = event.properties.get(key);
        keys[i] = key;
        at[i] = p;
      } else p = event.properties.get(key);
      i++;
      if (p === undefined) {
        let other = event.others.get(key);
        if (!other) {
          other = describeUnplanned(refOf([...path, key]), [...event.properties.keys()]);
          if (event.others.size < REMEMBERED_NAMES) event.others.set(key, other);
        }
        if (other.always) (found ??= []).push(other.always);
        if (other.without && !(other.without[0] in ids)) (found ??= []).push(other.without[1]);
        const personal = testUnplanned(path.length === 0 ? key : [...path, key], properties[key]);
        if (personal) (found ??= []).push(personal);
        continue;
      }
      seen |= p.bit;
      if (p.former) (found ??= []).push(p.former);
      const value = properties[key];
      if (isUsual(p, value)) continue;
      const f = p.test(value);
      if (f) (found ??= []).push(f);
      else if (p.inner && isObject(value)) found = look(p.inner, value, ids, found);
    }
    if (missing !== undefined && (seen !== event.mask || event.required.length > 30))
      for (let i = 0; i < event.required.length; i++) {
        const name = event.required[i]!;
        if (i < 30 ? seen & (1 << i) : Object.hasOwn(properties, name) || hasFormer(event, name, properties)) continue;
        (found ??= []).push({
          code: propertyMissing.id,
          severity: missing,
          path: ['properties', ...path, name],
          params: { property: refOf([...path, name]) },
        });
      }
    return found;
  }
};
