/** A plan version, compiled to a checker: closures per event and property, no generated code.
 *  The checks are in checks/, what a usual value is in usual-value.ts; here is the walk through a message.
 */
import { entries, propertiesOf, type Plan, type PlanEvent, type PlannedProperty } from '../plan/plan';
import type { Message } from './message';
import type { MessageFinding } from './message-finding';
import {
  envelopeTest,
  formerTest,
  identifierTest,
  lookedInto,
  missingTest,
  nameTest,
  NONE,
  pageTest,
  propertyTest,
  shareTest,
  severitiesOf,
  unplannedTest,
  unplannedValueTest,
  type SeverityOf,
  type UnplannedFound,
} from './message-tests';
import { userPropertyTest } from './user-property-tests';
import { standingIn, withOuters } from '../plan/outers';
import { isObject, refOf } from '../plan/property-path';
import { isUsual, usualOf, type UsualValue } from './usual-value';

interface CompiledProperty extends UsualValue {
  /** Bit of a required property; 0 where it is optional or beyond the 30th. */
  readonly bit: number;
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
  /** The required names, and what is said of a message without them. */
  readonly required: readonly string[];
  readonly missing: readonly (readonly MessageFinding[])[];
  readonly mask: number;
  /** What is said of names that are not planned, by name. */
  readonly others: Map<string, readonly UnplannedFound[]>;
}

export interface Checker {
  /** The findings on a message, in the order of its own keys, then what is missing. An empty array is shared: do not change it. */
  check(
    message: Pick<Message, 'kind' | 'name' | 'ids' | 'properties'> &
      Partial<Pick<Message, 'userProperties' | 'page' | 'id' | 'release' | 'sampleRate' | 'lostBefore'>>,
  ): readonly MessageFinding[];
  /** Whether the plan knows an event of this name. */
  knows(name: string): boolean;
}

const ENVELOPE = ['id', 'release', 'page'] as const;
/** A letter or a digit. */
const isPlain = (c: number): boolean => (c >= 97 && c <= 122) || (c >= 48 && c <= 57) || (c >= 65 && c <= 90);

const REMEMBERED_NAMES = 10_000;
const MAX_KEYS = 64;
const MAX_MASKED = 30;

/** Whether a property is there under a former name. */
const hasFormer = (level: Level, name: string, properties: Message['properties']): boolean => {
  for (const key in properties) if (level.properties.get(key)?.now === name) return true;
  return false;
};

interface Compiling {
  readonly severityOf: SeverityOf;
  readonly missing: ReturnType<typeof missingTest>;
  readonly former: ReturnType<typeof formerTest>;
}

const compileLevel = (planned: readonly PlannedProperty[], path: readonly string[], c: Compiling): Level => {
  const properties = new Map<string, CompiledProperty>();
  const required: string[] = [];
  let mask = 0;
  const own = standingIn(planned, path);
  for (const p of own) {
    const { property } = p;
    if (property.name === '') continue;
    const at = [...path, property.name];
    const inner = standingIn(planned, at).length > 0 ? compileLevel(planned, at, c) : undefined;
    const bit = p.required && required.length < MAX_MASKED ? 1 << required.length : 0;
    if (p.required) required.push(property.name);
    mask |= bit;
    const test = propertyTest(inner ? lookedInto(property) : property, c.severityOf);
    properties.set(property.name, { bit, ...usualOf(property), test, inner });
  }
  for (const { property } of own) {
    const compiled = properties.get(property.name);
    for (const name of property.formerNames) {
      if (!compiled || properties.has(name)) continue;
      const former = c.former(path, name, property.name);
      properties.set(name, { ...compiled, known: new Set(), former, now: property.name });
    }
  }
  const missing = required.map((name) => c.missing(refOf([...path, name])));
  return { path, properties, keys: [], found: [], required, missing, mask, others: new Map() };
};

const compileEvent = (plan: Plan, event: PlanEvent, c: Compiling): Level => compileLevel(withOuters(propertiesOf(plan, event)), [], c);

/** Compiles a plan to a checker.
 *  Shape: one value gives at most one finding: a placeholder is not also a wrong value. Former names of an event are known names, with a
 *  finding of their own. Checks that the workspace switched off are left out.
 */
export const compileChecker = (plan: Plan): Checker => {
  const severityOf = severitiesOf(plan);
  const compiling = { severityOf, missing: missingTest(plan, severityOf), former: formerTest(severityOf) };
  const events = new Map<string, Level>();
  /** Names that only former names are: all others that are known need no look. */
  const former = new Set<string>();
  for (const [, e] of entries(plan, 'event')) {
    const compiled = compileEvent(plan, e, compiling);
    for (const name of e.formerNames)
      if (!events.has(name)) {
        events.set(name, compiled);
        former.add(name);
      }
    if (e.name === '') continue;
    events.set(e.name, compiled);
    former.delete(e.name);
  }
  const testName = nameTest(plan, severityOf);
  const testIds = identifierTest(plan, severityOf);
  const testUserProperties = userPropertyTest(plan, severityOf);
  const describeUnplanned = unplannedTest(plan, severityOf);
  const testUnplanned = unplannedValueTest(severityOf, 'properties');
  const testPage = pageTest(severityOf);
  const testEnvelope = envelopeTest(severityOf);
  const testShare = shareTest(plan, severityOf);
  /** Most begin with a letter or a digit, which is seen at once. */
  const isOdd = (value: string | undefined): value is string =>
    value !== undefined && value !== '' && value.charCodeAt(0) !== 47 && !isPlain(value.charCodeAt(0));

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
      for (const field of ENVELOPE) {
        const value = message[field];
        if (!isOdd(value)) continue;
        const onField = testEnvelope(field, value);
        if (onField) (found ??= []).push(onField);
      }
      if (message.page) {
        const onPage = testPage(message.page);
        if (onPage) (found ??= []).push(onPage);
      }
      if (message.sampleRate !== undefined || message.lostBefore !== undefined)
        (found ??= []).push(...testShare(message.sampleRate, message.lostBefore));
      if (message.kind !== 'event') return unplannedIn(properties, found) ?? NONE;
      const event = events.get(message.name);
      if (!event || (former.size > 0 && former.has(message.name))) {
        const onName = testName(message.name);
        if (onName) (found ??= []).push(onName);
      }
      if (!event) return unplannedIn(properties, found) ?? NONE;
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
      else if (i < MAX_KEYS) {
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
        for (const { finding, excusedBy } of other) if (excusedBy === undefined || !(excusedBy in ids)) (found ??= []).push(finding);
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
    if (seen !== event.mask || event.required.length > MAX_MASKED)
      for (let i = 0; i < event.required.length; i++) {
        const name = event.required[i]!;
        if (i < MAX_MASKED ? seen & (1 << i) : Object.hasOwn(properties, name) || hasFormer(event, name, properties)) continue;
        const said = event.missing[i]!;
        if (said.length > 0) (found ??= []).push(...said);
      }
    return found;
  }
};
