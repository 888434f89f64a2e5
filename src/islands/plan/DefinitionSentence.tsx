/** The sentence of a definition: what it is made of, under which conditions, what becomes of the properties, and from when. */
import { Plus, X } from 'lucide-react';
import { Choice, type Option } from '../../ui/Choice';
import { DateField } from '../../ui/DateField';
import { toast } from '../../ui/toast';
import { focusAdded } from '../../ui/focus-added';
import { INTERACTION_PROPERTIES, withDefinedEvents } from '../../core/definitions/planned';
import {
  takesNone,
  takesSeveral,
  type Change,
  type Condition,
  type Operand,
  type Operator,
  type Subject,
} from '../../core/definitions/definition';
import { freshCondition, operandOf, operatorsFor, withGroup, withOperator, type Sentence } from '../../core/definitions/writing';
import { entries, settingsOf, type Plan, type PropertyType } from '../../core/plan/plan';
import { eventNamed, plannedPropertiesOf, refNamed } from '../../core/plan/plan-index';
import { ownName, refOfProperty, refText, sameRef, type PropertyRef } from '../../core/plan/property-path';
import { dayOf } from '../../core/questions/calendar';
import { instantAt } from '../../core/questions/day-text';

const SMALL = 'text-accent hover:bg-wash mx-0.5 inline-flex items-center gap-0.5 px-1 text-sm font-semibold align-middle min-h-[24px]';

const Add = ({ text, onClick }: { text: string; onClick: () => void }) => (
  <button type="button" className={SMALL} onClick={(e) => focusAdded(e.currentTarget, onClick)}>
    <Plus size={12} />
    {text}
  </button>
);
const Remove = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <button type="button" aria-label={label} className={SMALL} onClick={onClick}>
    <X size={13} />
  </button>
);

const INTERACTIONS = 'interactions';
const VIEWS = 'views';
const FIXED: readonly (readonly [Exclude<Subject['of'], 'property' | 'user property'>, string])[] = [
  ['page path', 'the address without host and query'],
  ['page query', 'the part after the ?'],
  ['page address', 'the whole address'],
  ['source', 'who sends it'],
  ['environment', 'such as production'],
  ['release', 'the version that sends it'],
  ['event name', 'as it was sent'],
];

interface Known {
  readonly ref: PropertyRef;
  readonly type: PropertyType;
  readonly allowed: readonly string[];
}

/** What the messages of a source carry, as far as the plan says it. */
const carriedBy = (plan: Plan, { source }: Pick<Sentence, 'source'>): Known[] => {
  if (source.of === 'interactions') return INTERACTION_PROPERTIES.map(([ref]) => ({ ref, type: 'string', allowed: [] }));
  if (source.of === 'views') return [];
  const whole = withDefinedEvents(plan);
  const out = new Map<string, Known>();
  for (const name of source.names) {
    const event = eventNamed(whole, name);
    for (const { property } of event ? plannedPropertiesOf(whole, event[0]) : []) {
      const ref = refOfProperty(property);
      if (!out.has(refText(ref))) out.set(refText(ref), { ref, type: property.type, allowed: property.allowed });
    }
  }
  return [...out.values()];
};

const typeOf = (plan: Plan, s: Pick<Sentence, 'source'>, subject: Subject): PropertyType | undefined =>
  subject.of === 'property'
    ? carriedBy(plan, s).find((k) => sameRef(k.ref, subject.name))?.type
    : subject.of === 'user property'
      ? entries(plan, 'userProperty').find(([, u]) => sameRef(refOfProperty(u), subject.name))?.[1].type
      : 'string';

const OF_PERSON = 'of the person';

const ConditionLine = ({
  plan,
  sentence,
  condition: c,
  onChange,
  onRemove,
}: {
  plan: Plan;
  sentence: Sentence;
  condition: Condition;
  onChange: (c: Condition) => void;
  onRemove: () => void;
}) => {
  const carried = carriedBy(plan, sentence);
  const type = typeOf(plan, sentence, c.subject);
  const named = c.subject.of === 'property' || c.subject.of === 'user property' ? refText(c.subject.name) : undefined;
  const users = entries(plan, 'userProperty').map(([, u]) => refOfProperty(u));
  const chosen = (text: string): Subject => {
    const fixed = FIXED.find(([of]) => of === text);
    if (fixed) return { of: fixed[0] };
    const own = carried.find((k) => refText(k.ref) === text);
    if (own) return { of: 'property', name: own.ref };
    const user = users.find((ref) => refText(ref) === text);
    return user === undefined ? { of: 'property', name: refNamed(plan, text) } : { of: 'user property', name: user };
  };
  const sources = entries(plan, 'source').map(([id, s]) => ({ id, name: s.name }));
  const shown = (v: Operand): string => (c.subject.of === 'source' ? (sources.find((s) => s.id === v)?.name ?? String(v)) : String(v));
  const options: readonly Option[] =
    c.subject.of === 'source'
      ? sources.map((s) => ({ value: s.name }))
      : c.subject.of === 'environment'
        ? [...new Set(entries(plan, 'source').map(([, s]) => s.environment))].map((value) => ({ value }))
        : c.subject.of === 'property'
          ? (carried.find((k) => sameRef(k.ref, (c.subject as { name: PropertyRef }).name))?.allowed ?? []).map((value) => ({ value }))
          : [];
  const operators = operatorsFor(c.subject, type);
  const put = (at: number, text: string): void => {
    const id = c.subject.of === 'source' ? sources.find((s) => s.name === text)?.id : undefined;
    const value = operandOf(id ?? text, c.op, c.subject, type);
    if (value === undefined) toast.error(`“${c.op}” compares numbers; “${text}” is none.`);
    else onChange({ ...c, values: [...c.values.slice(0, at), value, ...c.values.slice(at + 1)] });
  };
  const open = takesSeveral(c.op) || c.values.length === 0 ? c.values.length : -1;
  return (
    <span>
      <Choice
        label="What is looked at"
        wire={named !== undefined}
        value={named ?? c.subject.of}
        placeholder="a property"
        options={[
          ...FIXED.map(([value, note]) => ({ value, note })),
          ...carried.map((k) => ({ value: refText(k.ref), note: k.type })),
          ...users.map((ref) => ({ value: refText(ref), note: OF_PERSON })),
        ]}
        free={(t) => `The property “${t}”, as it arrives`}
        onChoose={(text) => {
          const subject = chosen(text);
          const ops = operatorsFor(subject, typeOf(plan, sentence, subject));
          onChange({ subject, op: ops.includes(c.op) ? c.op : ops[0]!, values: [] });
        }}
      />
      {c.subject.of === 'user property' ? ' of the person ' : ' '}
      <Choice
        label="Comparison"
        value={c.op}
        options={operators.map((value) => ({ value }))}
        onChoose={(op) => onChange(withOperator(c, op as Operator))}
      />{' '}
      {takesNone(c.op)
        ? null
        : [...c.values.map((v, i) => ({ v, i })), ...(open >= 0 ? [{ v: undefined, i: open }] : [])].map(({ v, i }) => (
            <span key={i}>
              {i > 0 ? (v === undefined ? ' ' : ', ') : ''}
              <Choice
                label={i === 0 ? 'Value' : `Value ${i + 1}`}
                wire
                value={v === undefined ? '' : shown(v)}
                placeholder={i === 0 ? (c.op === 'matches' ? 'a pattern' : 'a value') : 'another'}
                options={options}
                free={(t) => `The value “${t}”`}
                onChoose={(t) => put(i, t)}
              />
              {takesSeveral(c.op) && v !== undefined ? (
                <Remove label={`Remove the value ${shown(v)}`} onClick={() => onChange({ ...c, values: c.values.toSpliced(i, 1) })} />
              ) : null}
            </span>
          ))}
      <Remove label="Remove this condition" onClick={onRemove} />
    </span>
  );
};

const MATCHES: readonly Option[] = [{ value: 'all of' }, { value: 'any of' }];
const Match = ({ value, label, onChange }: { value: 'all' | 'any'; label: string; onChange: (m: 'all' | 'any') => void }) => (
  <Choice label={label} value={`${value} of`} options={MATCHES} onChoose={(v) => onChange(v === 'any of' ? 'any' : 'all')} />
);

const SourcePart = ({
  plan,
  sentence,
  own,
  onChange,
}: {
  plan: Plan;
  sentence: Sentence;
  own: string;
  onChange: (s: Sentence) => void;
}) => {
  const { source } = sentence;
  const names = source.of === 'events' ? (source.names.length > 0 ? source.names : ['']) : [source.of];
  const options: Option[] = [
    { value: INTERACTIONS, note: 'whatever is pressed' },
    { value: VIEWS, note: 'pages and screens' },
    ...entries(withDefinedEvents(plan), 'event')
      .filter(([, e]) => !e.retired && e.name !== own)
      .map(([, e]) => ({ value: e.name, note: e.flow || 'defined' })),
  ];
  const choose = (at: number, name: string): void => {
    if (name === INTERACTIONS || name === VIEWS) onChange({ ...sentence, source: { of: name } });
    else
      onChange({
        ...sentence,
        source: { of: 'events', names: [...new Set(source.of === 'events' ? names.toSpliced(at, 1, name) : [name])] },
      });
  };
  return (
    <>
      {source.of === 'events' ? 'Messages of ' : 'All '}
      {names.map((n, i) => (
        <span key={i}>
          {i > 0 ? ' or ' : ''}
          <Choice
            label={i === 0 ? 'Made of' : `Made of, ${i + 1}`}
            wire={source.of === 'events'}
            value={n}
            placeholder="an event"
            options={options}
            free={(t) => `Messages that arrive as “${t}”`}
            onChoose={(name) => choose(i, name)}
          />
          {names.length > 1 ? (
            <Remove
              label={`Remove ${n || 'this event'}`}
              onClick={() => onChange({ ...sentence, source: { of: 'events', names: names.toSpliced(i, 1) } })}
            />
          ) : null}
        </span>
      ))}
      {source.of === 'events' && names.every((n) => n !== '') ? (
        <Add text="or" onClick={() => onChange({ ...sentence, source: { of: 'events', names: [...names, ''] } })} />
      ) : null}
    </>
  );
};

const ChangeLine = ({
  plan,
  sentence,
  change: c,
  onChange,
  onRemove,
}: {
  plan: Plan;
  sentence: Sentence;
  change: Change;
  onChange: (c: Change) => void;
  onRemove: () => void;
}) => {
  const carried = carriedBy(plan, sentence);
  const type = carried.find((k) => sameRef(k.ref, c.name))?.type;
  return (
    <span>
      <Choice
        label="Property"
        wire
        value={refText(c.name)}
        placeholder="a property"
        options={carried.map((k) => ({ value: refText(k.ref), note: k.type }))}
        free={(t) => `The property “${t}”`}
        onChoose={(t) => onChange({ ...c, name: carried.find((k) => refText(k.ref) === t)?.ref ?? refNamed(plan, t) })}
      />
      {c.what === 'drop' ? ' is left out' : c.what === 'rename' ? ' is called ' : ' is set to '}
      {c.what === 'drop' ? null : (
        <Choice
          label={c.what === 'rename' ? 'New name' : 'Value'}
          wire
          value={c.what === 'rename' ? c.to : String(c.value)}
          placeholder={c.what === 'rename' ? 'a name' : 'a value'}
          options={[]}
          free={(t) => (c.what === 'rename' ? `The name “${t}”` : `The value “${t}”`)}
          onChoose={(t) =>
            onChange(
              c.what === 'rename' ? { ...c, to: t } : { ...c, value: operandOf(t, 'is', { of: 'property', name: c.name }, type) ?? t },
            )
          }
        />
      )}
      <Remove label={`Copy ${ownName(c.name) || 'this property'} as it is`} onClick={onRemove} />
    </span>
  );
};

const ALL = 'all history';
const NOW = 'now on';
const DAY = 'a day';

export const DefinitionSentence = ({
  plan,
  own,
  sentence,
  onChange,
}: {
  plan: Plan;
  /** The definition's own name. */
  own: string;
  sentence: Sentence;
  onChange: (s: Sentence) => void;
}) => {
  const { where, changes, since } = sentence;
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const set = (next: Partial<Sentence>): void => onChange({ ...sentence, ...next });
  const join = where.match === 'all' ? 'and' : 'or';
  const parts = where.conditions.length + where.groups.length;
  return (
    <div className="text-[1.05rem] leading-[2.05]" data-sentence>
      <p>
        <SourcePart plan={plan} sentence={sentence} own={own} onChange={onChange} />
        {parts > 1 ? (
          <>
            {' '}
            for which <Match
              value={where.match}
              label="How many conditions"
              onChange={(match) => set({ where: { ...where, match } })}
            />{' '}
            these hold:
          </>
        ) : parts === 1 ? (
          ' for which'
        ) : null}
      </p>
      <ul className="pl-5">
        {where.conditions.map((c, i) => (
          <li key={`c${i}`} data-line>
            {i > 0 ? <span className="text-ink-2">{join} </span> : null}
            <ConditionLine
              plan={plan}
              sentence={sentence}
              condition={c}
              onChange={(n) => set({ where: { ...where, conditions: where.conditions.with(i, n) } })}
              onRemove={() => set({ where: { ...where, conditions: where.conditions.toSpliced(i, 1) } })}
            />
          </li>
        ))}
        {where.groups.map((g, k) => (
          <li key={`g${k}`} data-line>
            {where.conditions.length + k > 0 ? <span className="text-ink-2">{join} </span> : null}
            <Match
              value={g.match}
              label="How many conditions of the group"
              onChange={(match) => set({ where: withGroup(where, k, { ...g, match }) })}
            />
            <Remove label="Remove this group" onClick={() => set({ where: withGroup(where, k, undefined) })} />
            <ul className="border-l-2 border-rule pl-4">
              {g.conditions.map((c, i) => (
                <li key={i}>
                  {i > 0 ? <span className="text-ink-2">{g.match === 'all' ? 'and' : 'or'} </span> : null}
                  <ConditionLine
                    plan={plan}
                    sentence={sentence}
                    condition={c}
                    onChange={(n) => set({ where: withGroup(where, k, { ...g, conditions: g.conditions.with(i, n) }) })}
                    onRemove={() => set({ where: withGroup(where, k, { ...g, conditions: g.conditions.toSpliced(i, 1) }) })}
                  />
                </li>
              ))}
              <li>
                <Add
                  text="condition in the group"
                  onClick={() => set({ where: withGroup(where, k, { ...g, conditions: [...g.conditions, freshCondition()] }) })}
                />
              </li>
            </ul>
          </li>
        ))}
        <li>
          <Add text="condition" onClick={() => set({ where: { ...where, conditions: [...where.conditions, freshCondition()] } })} />
          <Add
            text="group"
            onClick={() =>
              set({
                where: {
                  ...where,
                  groups: [
                    ...where.groups,
                    { match: where.match === 'all' ? 'any' : 'all', conditions: [freshCondition(), freshCondition()] },
                  ],
                },
              })
            }
          />
        </li>
      </ul>
      <p>
        Properties are copied{changes.length > 0 ? ', but ' : ' whole. '}
        {changes.map((c, i) => (
          <span key={i} data-line>
            {i > 0 ? '; ' : ''}
            <ChangeLine
              plan={plan}
              sentence={sentence}
              change={c}
              onChange={(n) => set({ changes: changes.with(i, n) })}
              onRemove={() => set({ changes: changes.toSpliced(i, 1) })}
            />
          </span>
        ))}
        <Add text="set" onClick={() => set({ changes: [...changes, { what: 'set', name: '', value: '' }] })} />
        <Add text="rename" onClick={() => set({ changes: [...changes, { what: 'rename', name: '', to: '' }] })} />
        <Add text="leave out" onClick={() => set({ changes: [...changes, { what: 'drop', name: '' }] })} />
      </p>
      <p>
        Measured from{' '}
        <Choice
          label="Measured from"
          value={since === undefined ? ALL : DAY}
          options={[
            { value: ALL, note: 'whatever was recorded' },
            { value: NOW, note: 'nothing before this moment' },
            { value: DAY, note: 'nothing before it' },
          ]}
          onChoose={(v) =>
            set({
              since:
                v === ALL
                  ? undefined
                  : v === NOW
                    ? Date.now()
                    : (since ?? instantAt(dayOf(Date.now(), timeZone), '0:00', timeZone) ?? Date.now()),
            })
          }
        />{' '}
        {since === undefined ? null : (
          <DateField
            label="First day"
            value={dayOf(since, timeZone)}
            timeZone={timeZone}
            weekStartsOn={weekStartsOn}
            onChange={(day) => set({ since: day === '' ? undefined : (instantAt(day, '0:00', timeZone) ?? since) })}
          />
        )}
      </p>
    </div>
  );
};
