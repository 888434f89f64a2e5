/** What a change means to those who send by the plan and to those who read by it. */
import type { Change } from './diff';
import { sameValue } from './edit';
import { namedAs } from './rename';
import type { EventProperty, EventSource, Id, Plan } from './plan';

export const IMPACTS = ['breaking', 'additive', 'wording'] as const;
/** `breaking`: what was right before is wrong now, or a figure changes its meaning. `additive`: more is possible than before. */
export type Impact = (typeof IMPACTS)[number];

export interface JudgedField {
  /** `undefined`: the entity as a whole. */
  readonly field: string | undefined;
  readonly before: unknown;
  readonly after: unknown;
  readonly impact: Impact;
  readonly reason: string;
}

export interface JudgedChange extends Omit<Change, 'fields'> {
  readonly impact: Impact;
  readonly fields: readonly JudgedField[];
}

const RANK: Record<Impact, number> = { breaking: 0, additive: 1, wording: 2 };
export const worstImpact = (list: readonly { readonly impact: Impact }[]): Impact =>
  list.reduce<Impact>((w, x) => (RANK[x.impact] < RANK[w] ? x.impact : w), 'wording');

type Verdict = readonly [Impact, string];
const WORDS_ONLY: Verdict = ['wording', 'It is for readers alone.'];

const names = (ids: readonly Id[], table: Readonly<Record<Id, { readonly name: string }>>): string =>
  ids.map((id) => `\`${table[id]?.name ?? id}\``).join(', ');

const listed = (before: readonly string[], after: readonly string[]): Verdict => {
  const gone = before.filter((v) => !after.includes(v));
  if (before.length === 0) return ['breaking', 'Any value was right before; now only those on the list.'];
  if (after.length === 0) return ['additive', 'Any value is right now.'];
  if (gone.length > 0) return ['breaking', `No longer allowed: ${gone.join(', ')}.`];
  return ['additive', `Also allowed: ${after.filter((v) => !before.includes(v)).join(', ')}.`];
};

const boundText = (v: unknown): string => (typeof v === 'number' ? String(v) : 'no bound');
const bound = (before: unknown, after: unknown, narrower: boolean): Verdict =>
  narrower
    ? ['breaking', `Values that were right lie outside now (${boundText(before)}, then ${boundText(after)}).`]
    : ['additive', 'More values are right than before.'];

const carried = (before: readonly EventProperty[], after: readonly EventProperty[], p: Plan, q: Plan): Verdict => {
  const was = new Map(before.map((x) => [x.propertyId, x]));
  const is = new Map(after.map((x) => [x.propertyId, x]));
  const added = after.filter((x) => !was.has(x.propertyId));
  const gone = before.filter((x) => !is.has(x.propertyId));
  const needed = [...added.filter((x) => x.required), ...after.filter((x) => x.required && was.get(x.propertyId)?.required === false)];
  const narrowed = after.filter((x) => {
    const old = was.get(x.propertyId);
    return old !== undefined && x.allowed !== undefined && (old.allowed === undefined || old.allowed.some((v) => !x.allowed!.includes(v)));
  });
  if (gone.length > 0)
    return [
      'breaking',
      `No longer promised: ${names(
        gone.map((x) => x.propertyId),
        p.property,
      )}.`,
    ];
  if (needed.length > 0)
    return [
      'breaking',
      `Messages without ${names(
        needed.map((x) => x.propertyId),
        q.property,
      )} are incomplete now.`,
    ];
  if (narrowed.length > 0)
    return [
      'breaking',
      `Fewer values are right for ${names(
        narrowed.map((x) => x.propertyId),
        q.property,
      )}.`,
    ];
  if (added.length > 0)
    return [
      'additive',
      `May also carry ${names(
        added.map((x) => x.propertyId),
        q.property,
      )}.`,
    ];
  return ['additive', 'Less is required than before.'];
};

const sent = (before: readonly EventSource[], after: readonly EventSource[], q: Plan): Verdict => {
  const is = new Set(after.filter((s) => s.build !== 'retired').map((s) => s.sourceId));
  const was = new Set(before.filter((s) => s.build !== 'retired').map((s) => s.sourceId));
  const gone = [...was].filter((s) => !is.has(s));
  const added = [...is].filter((s) => !was.has(s));
  if (gone.length > 0) return ['breaking', `No longer sent by ${names(gone, q.source)}: its counts end.`];
  if (added.length > 0) return ['additive', `Also sent by ${names(added, q.source)}: counts grow from then on.`];
  const needed = after.filter((s) => s.required && before.some((b) => b.sourceId === s.sourceId && !b.required));
  if (needed.length > 0)
    return [
      'breaking',
      `Now required of ${names(
        needed.map((s) => s.sourceId),
        q.source,
      )}.`,
    ];
  return ['wording', 'How far it is built.'];
};

const FOLLOWS: Verdict = ['wording', 'It follows a name that changed; what is counted is the same.'];

/** Names under which messages may come besides the present one. */
const former = (before: readonly string[], after: readonly string[], name: string): Verdict => {
  const gone = before.filter((n) => !after.includes(n) && n !== name);
  const added = after.filter((n) => !before.includes(n));
  if (gone.length > 0) return ['breaking', `Messages under ${gone.map((n) => `\`${n}\``).join(', ')} are unknown from now on.`];
  if (added.length > 0)
    return ['additive', `Messages under ${added.map((n) => `\`${n}\``).join(', ')} count as it, those of the past, too.`];
  return ['wording', 'The same names in another order.'];
};

const ofEvent = (field: string, before: unknown, after: unknown, change: Change, p: Plan, q: Plan): Verdict => {
  switch (field) {
    case 'name':
      return q.event[change.id]?.formerNames.includes(String(before))
        ? ['additive', 'The former name is kept, so messages under it are still known.']
        : ['breaking', 'Messages under the old name are unknown from now on.'];
    case 'formerNames':
      return former(before as string[], after as string[], q.event[change.id]?.name ?? '');
    case 'properties':
      return carried(before as EventProperty[], after as EventProperty[], p, q);
    case 'sharedSets': {
      const gone = (before as Id[]).filter((s) => !(after as Id[]).includes(s));
      return gone.length > 0
        ? ['breaking', `What ${names(gone, p.sharedSet)} holds is no longer promised.`]
        : ['breaking', 'Messages need what the new shared set requires.'];
    }
    case 'sources':
      return sent(before as EventSource[], after as EventSource[], q);
    case 'trigger':
    case 'triggerKind':
      return ['breaking', 'It counts another moment, so figures before and after are not comparable.'];
    case 'scope':
    case 'oncePer':
    case 'series':
      return ['breaking', 'Fewer or other messages are right than before.'];
    case 'retired':
      return after === true ? ['breaking', 'Nobody is asked to send it from now on.'] : ['additive', 'It is asked for again.'];
    case 'counterpart':
      return ['additive', 'What arrives is compared with another event.'];
    case 'conversion':
      return ['additive', 'It is marked where the data goes.'];
    default:
      return WORDS_ONLY;
  }
};

const isLarger = (after: unknown, before: unknown): boolean =>
  after !== undefined && (before === undefined || (after as number) > (before as number));

const ofProperty = (field: string, before: unknown, after: unknown, change: Change, q: Plan): Verdict => {
  const now = (change.kind === 'property' ? q.property : q.userProperty)[change.id];
  switch (field) {
    case 'formerNames':
      return former(before as string[], after as string[], now?.name ?? '');
    case 'name':
      if (now?.formerNames.includes(String(before))) return ['additive', 'The former name is kept, so messages under it are still known.'];
      return ['breaking', 'Messages and analyses under the old name find nothing.'];
    case 'type':
      return before === 'integer' && after === 'number'
        ? ['additive', 'Whole numbers are numbers too.']
        : ['breaking', `Values of type ${String(before)} are wrong now.`];
    case 'unit':
      return ['breaking', `The same number means something else: ${String(before) || 'no unit'}, then ${String(after) || 'no unit'}.`];
    case 'allowed':
      return listed(before as string[], after as string[]);
    case 'min':
      return bound(before, after, isLarger(after, before));
    case 'max':
      return bound(before, after, after !== undefined && (before === undefined || (after as number) < (before as number)));
    case 'pattern':
    case 'format':
      return after === '' ? ['additive', 'Any text is right now.'] : ['breaking', 'Texts that were valid may now be invalid.'];
    case 'retired':
      return after === true ? ['breaking', 'Nobody is asked to send it from now on.'] : ['additive', 'It is asked for again.'];
    case 'personalData':
      return ['breaking', 'Who may see it and how long it is kept changes.'];
    default:
      return change.kind === 'userProperty' && field === 'registered'
        ? ['additive', 'Reports can group by it from now on; that cannot be taken back.']
        : field === 'write'
          ? ['breaking', 'The value that stays is another one.']
          : WORDS_ONLY;
  }
};

const ofDefinition = (field: string, before: unknown, after: unknown): Verdict => {
  switch (field) {
    case 'name':
      return ['wording', 'No message carries it, and what asks about it follows.'];
    case 'source':
    case 'where':
      return ['breaking', 'It takes other messages, so what is counted by it is counted otherwise.'];
    case 'changes':
      return ['breaking', 'Its properties are others than before.'];
    case 'since':
      return isLarger(after, before) || (before === undefined && after !== undefined)
        ? ['breaking', 'What was measured before its start is so no longer.']
        : ['additive', 'It is measured from an earlier day on.'];
    case 'retired':
      return after === true ? ['breaking', 'It is no longer worked out.'] : ['additive', 'It is worked out again.'];
    case 'conversion':
      return ['additive', 'It is marked where the data goes.'];
    default:
      return WORDS_ONLY;
  }
};

const ofField = (change: Change, field: string, before: unknown, after: unknown, p: Plan, q: Plan): Verdict => {
  switch (change.kind) {
    case 'event':
      return ofEvent(field, before, after, change, p, q);
    case 'property':
    case 'userProperty':
      return ofProperty(field, before, after, change, q);
    case 'sharedSet':
      return field === 'properties' ? carried(before as EventProperty[], after as EventProperty[], p, q) : WORDS_ONLY;
    case 'question':
      return field === 'formula' ? ['breaking', 'The figure is counted in another way.'] : WORDS_ONLY;
    case 'source':
      return field === 'idKinds' ? ['breaking', 'Messages carry other identifiers, so persons may be counted otherwise.'] : WORDS_ONLY;
    case 'identifierKind':
      return field === 'name' || field === 'pattern' ? ['breaking', 'Identifiers that were known are now unknown.'] : WORDS_ONLY;
    case 'definition':
      return ofDefinition(field, before, after);
    case 'trial':
      return WORDS_ONLY;
    case 'settings':
      return field === 'identity'
        ? ['breaking', 'Persons are counted otherwise, over all history.']
        : field === 'timeZone' || field === 'weekStartsOn'
          ? ['breaking', 'Days and weeks begin at another moment.']
          : field === 'sessionGapMinutes'
            ? ['breaking', 'Sessions end at another moment, so their number is another.']
            : field === 'rules'
              ? ['additive', 'What is found, or how grave it is, changes; no message does.']
              : WORDS_ONLY;
  }
};

const GONE: Partial<Record<Change['kind'], string>> = {
  event: 'Messages of this name are unknown from now on.',
  property: 'Nobody is asked to send it from now on.',
  userProperty: 'Nobody is asked to set it from now on.',
  sharedSet: 'Events no longer take what it holds.',
  source: 'Nothing is expected from it from now on.',
  question: 'Its figure is no longer worked out.',
  identifierKind: 'Identifiers of this kind are no longer expected.',
  definition: 'What is counted by it has nothing to count.',
  trial: 'It is no longer tried.',
};

/** Each change with what it means: breaking, additive, or wording alone, with the reason, field by field.
 *  Shape: in the order of the changes. `from` and `to` are the plans that the changes lead between.
 *  Source: own definition.
 */
export const judgeChanges = (changes: readonly Change[], from: Plan, to: Plan): JudgedChange[] => {
  const isRename = changes.some((c) => c.what === 'changed' && c.fields.some((f) => f.field === 'name'));
  const renamed = isRename ? namedAs(from, to) : from;
  /** Whether a field says what it said, but for names that others have now. */
  const follows = (c: Change, field: string, after: unknown): boolean =>
    isRename && field !== 'name' && sameValue((renamed[c.kind][c.id] as Readonly<Record<string, unknown>> | undefined)?.[field], after);
  return changes.map((c): JudgedChange => {
    const whole = (impact: Impact, reason: string): JudgedChange => ({
      ...c,
      impact,
      fields: [{ field: undefined, before: undefined, after: undefined, impact, reason }],
    });
    if (c.what === 'added')
      return whole('additive', c.kind === 'definition' ? 'It names what is recorded; no message changes.' : 'It was not already recorded.');
    if (c.what === 'removed') return whole('breaking', GONE[c.kind] ?? 'It is gone.');
    const fields = c.fields.map((f): JudgedField => {
      const [impact, reason] = follows(c, f.field, f.after) ? FOLLOWS : ofField(c, f.field, f.before, f.after, from, to);
      return { ...f, impact, reason };
    });
    return { ...c, impact: worstImpact(fields), fields };
  });
};
