/** What no change of a plan may do, whichever way it comes in: from a cell, by the interface for programs, by undoing, by a file, by a proposal. */
import { limitsOf } from './limits';
import type { Edit } from './edit';
import { entries, labelOf, type BodyOf, type Id, type Kind, type Plan } from './plan';
import { refKey, refOfProperty } from './property-path';

/** Why a change is refused. */
export interface Refusal {
  readonly kind: Kind;
  readonly id: Id;
  readonly field: string;
  readonly says: string;
}

type Body = BodyOf[Kind];

/** Kinds whose entities are told apart by their name, and the word for one. */
const NAMED: Partial<Record<Kind, string>> = {
  event: 'event',
  definition: 'definition',
  userProperty: 'user property',
  identifierKind: 'identifier kind',
  source: 'source',
  sharedSet: 'shared set',
};

const WATCHED = new Set(['name', 'within', 'formerNames', 'registered', 'temporary', 'conversion', 'retired', 'sources', 'properties', 'sharedSets', 'steps', 'prerequisites']); // prettier-ignore

/** Whether an edit may be against any of these rules at all. */
export const mayBeRefused = (e: Edit): boolean => e.op !== 'set' || WATCHED.has(e.field);

const nameKey = (kind: Kind, body: Body): string =>
  kind === 'userProperty' ? refKey(refOfProperty(body as BodyOf['userProperty'])) : labelOf(kind, body);

const quoted = (name: string): string => `“${name}”`;

/** Who has a name, and whose older messages came under it, before a change: each kind is gone through once, however many edits there are. */
class Names {
  private readonly byName = new Map<Kind, Map<string, Id[]>>();
  private formerly: Map<string, Id[]> | undefined;
  constructor(
    private readonly before: Plan,
    private readonly after: Plan,
  ) {}

  /** Of the plan after the change. */
  of(kind: Kind, key: string): readonly Id[] {
    let own = this.byName.get(kind);
    if (!own) {
      this.byName.set(kind, (own = new Map<string, Id[]>()));
      for (const [id, body] of entries(this.after, kind)) {
        const name = nameKey(kind, body);
        const list = own.get(name);
        if (list) list.push(id);
        else own.set(name, [id]);
      }
    }
    return own.get(key) ?? [];
  }

  /** Events that had it as a former name, and have it still. What comes in together, as a plan from elsewhere, has sorted that out. */
  formerlyOf(name: string): readonly Id[] {
    if (!this.formerly) {
      this.formerly = new Map<string, Id[]>();
      for (const [id, e] of entries(this.before, 'event'))
        for (const n of e.formerNames) this.formerly.set(n, [...(this.formerly.get(n) ?? []), id]);
    }
    return (this.formerly.get(name) ?? []).filter((id) => this.after.event[id]?.formerNames.includes(name));
  }
}

/** A name that another one has, or that older messages of another one came under. */
const nameTaken = (before: Plan, after: Plan, names: Names, kind: Kind, id: Id): Refusal | undefined => {
  const body = after[kind][id];
  const word = NAMED[kind];
  if (word === undefined || !body) return undefined;
  const name = labelOf(kind, body);
  const key = nameKey(kind, body);
  const was = before[kind][id];
  if (name === '' || (was && nameKey(kind, was) === key)) return undefined;
  const refuse = (says: string): Refusal => ({ kind, id, field: 'name', says });
  const other = names.of(kind, key).find((i) => i !== id);
  if (other !== undefined) {
    const b = after[kind][other]!;
    return refuse(
      'retired' in b && b.retired
        ? `There is ${article(word)} ${quoted(name)} already, which is retired: bring that one back, or choose another name.`
        : `There is ${article(word)} ${quoted(name)} already. Choose another name.`,
    );
  }
  const former = kind === 'event' ? names.formerlyOf(name).find((i) => i !== id) : undefined;
  return former === undefined
    ? undefined
    : refuse(
        `${quoted(name)} is a former name of ${quoted(after.event[former]!.name)}, and older messages of it came under that name. Choose another name, or take it out of its former names first.`,
      );
};

const article = (word: string): string => `${/^[aeio]/.test(word) ? 'an' : 'a'} ${word}`;

/** What is registered stays so, under its name. */
const registrationLost = (before: Plan, after: Plan, id: Id): Refusal | undefined => {
  const was = before.userProperty[id];
  const is = after.userProperty[id];
  const refuse = (field: string, says: string): Refusal => ({ kind: 'userProperty', id, field, says });
  if (is?.registered && is.temporary) return was?.registered && was.temporary ? undefined : refuse('temporary', `${quoted(labelOf('userProperty', is))} is marked temporary, and a temporary one is never registered.`); // prettier-ignore
  if (!was?.registered) return undefined;
  const name = quoted(labelOf('userProperty', was));
  if (!is) return refuse('registered', `${name} is registered, which cannot be taken back: retire it instead.`);
  if (!is.registered) return refuse('registered', `${name} is registered, which cannot be taken back: retire it instead.`);
  if (nameKey('userProperty', was) !== nameKey('userProperty', is))
    return refuse('name', `${name} is registered, so its name is locked. Another name makes a new user property, and this one is retired.`);
  return undefined;
};

const LIMITS = {
  userProperties: ['userProperty', 'registered', 'none can be given back'],
  conversions: ['event', 'conversion', 'take the mark off another one first'],
} as const;

/** A limit that is gone over by more than before. */
const limitBroken = (before: Plan, after: Plan, edits: readonly Edit[]): Refusal | undefined => {
  const was = new Map(limitsOf(before).map((u) => [u.key, u.used]));
  for (const { key, what, used, limit } of limitsOf(after)) {
    if (key === 'events' || used <= limit || used <= was.get(key)!) continue;
    const [kind, field, how] = LIMITS[key];
    const by = edits.find((e) => (e.kind === kind || e.kind === 'definition') && (e.op !== 'set' || e.field === field));
    return {
      kind: by?.kind ?? kind,
      id: by?.id ?? '',
      field,
      says: `The limits profile allows ${limit.toLocaleString('en-GB')} ${what}, and this would make ${used.toLocaleString('en-GB')}: ${how}.`,
    };
  }
  return undefined;
};

/** What an entity refers to by ID. */
const refersTo = (kind: Kind, body: Body): readonly (readonly [kind: Kind, id: Id, field: string])[] => {
  switch (kind) {
    case 'event': {
      const e = body as BodyOf['event'];
      return [
        ...e.sources.map((s) => ['source', s.sourceId, 'sources'] as const),
        ...e.properties.map((p) => ['property', p.propertyId, 'properties'] as const),
        ...e.sharedSets.map((s) => ['sharedSet', s, 'sharedSets'] as const),
      ];
    }
    case 'sharedSet':
      return (body as BodyOf['sharedSet']).properties.map((p) => ['property', p.propertyId, 'properties'] as const);
    case 'userProperty':
      return (body as BodyOf['userProperty']).sources.map((s) => ['source', s, 'sources'] as const);
    case 'source':
      return ((body as BodyOf['source']).prerequisites ?? []).flatMap((p) =>
        p.notInheritedBy.map((e) => ['event', e, 'prerequisites'] as const),
      );
    case 'trial':
      return (body as BodyOf['trial']).steps.flatMap((s) =>
        s.expects.flatMap((x) => x.sources.map((id) => ['source', id, 'steps'] as const)),
      );
    default:
      return [];
  }
};

/** The word for what a reference goes to. */
const KIND_WORDS: Partial<Record<Kind, string>> = { ...NAMED, property: 'property' };

const REFERRING: readonly Kind[] = ['event', 'sharedSet', 'userProperty', 'source', 'trial'];

/** A reference to what is not there, which was not there before. */
const referenceLost = (before: Plan, after: Plan, edits: readonly Edit[]): Refusal | undefined => {
  const removes = edits.some((e) => e.op === 'remove');
  const touched = new Map<Kind, Set<Id>>();
  for (const e of edits) touched.set(e.kind, (touched.get(e.kind) ?? new Set<Id>()).add(e.id));
  for (const kind of REFERRING)
    for (const [id, body] of entries(after, kind)) {
      if (!removes && touched.get(kind)?.has(id) !== true) continue;
      for (const [to, other, field] of refersTo(kind, body)) {
        if (Object.hasOwn(after[to], other)) continue;
        const was = before[kind][id];
        const gone = Object.hasOwn(before[to], other) ? before[to][other] : undefined;
        if (!gone && was && refersTo(kind, was).some(([k, i]) => k === to && i === other)) continue;
        const name = quoted(labelOf(kind, body) || id);
        return {
          kind,
          id,
          field,
          says: gone
            ? `${name} still refers to the ${KIND_WORDS[to] ?? to} ${quoted(labelOf(to, gone) || other)}, which would be removed: take it out there first.`
            : `${name} would refer to the ${KIND_WORDS[to] ?? to} ${quoted(other)}, which is not in the plan.`,
        };
      }
    }
  return undefined;
};

/** Why a change is refused; `undefined` where nothing is against it.
 *  Shape: the first thing that is wrong. What was wrong before the change and is not made worse is no reason: an old plan can be edited.
 */
export const refusedBy = (before: Plan, after: Plan, edits: readonly Edit[]): Refusal | undefined => {
  if (!edits.some(mayBeRefused)) return undefined;
  const names = new Names(before, after);
  const seen = new Set<string>();
  for (const e of edits) {
    const key = `${e.kind} ${e.id}`;
    if (seen.has(key) || !mayBeRefused(e)) continue;
    seen.add(key);
    const found =
      nameTaken(before, after, names, e.kind, e.id) ?? (e.kind === 'userProperty' ? registrationLost(before, after, e.id) : undefined);
    if (found) return found;
  }
  return limitBroken(before, after, edits) ?? referenceLost(before, after, edits);
};
