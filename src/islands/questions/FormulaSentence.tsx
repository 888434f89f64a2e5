/** The formula as a sentence in which the chosen parts are edited in place. What the parts are, the formula itself says. */
import { useCommit } from '../../ui/use-commit';
import { Plus, X } from 'lucide-react';
import { toast } from '../../ui/toast';
import { definitionNamed, withDefinedEvents } from '../../core/definitions/planned';
import { entries, plannedAt, type Plan } from '../../core/plan/plan';
import { eventNamed, plannedPropertiesOf, refNamed } from '../../core/plan/plan-index';
import { isNumeric } from '../../core/plan/property-type';
import { isUnary, OPERATORS, type Condition, type ConditionValue, type Formula, type Step } from '../../core/questions/formula';
import { partsOf } from '../../core/questions/formulas/index';
import { valueInType, valueOfText } from '../../core/questions/typed-conditions';
import type { Part } from '../../core/questions/sentence';
import { Choice, type Option } from '../../ui/Choice';
import { focusAdded } from '../../ui/focus-added';
import { refOfProperty, refText, sameRef } from '../../core/plan/property-path';

const SMALL = 'text-accent hover:bg-wash mx-0.5 inline-flex items-center gap-0.5 px-1 text-sm font-semibold align-middle';

interface Props {
  readonly plan: Plan;
  readonly formula: Formula;
  readonly onChange: (formula: Formula, what: string) => void;
}

const eventOptions = (plan: Plan): Option[] =>
  entries(withDefinedEvents(plan), 'event')
    .filter(([, e]) => !e.retired)
    .map(([, e]) => ({ value: e.name, note: definitionNamed(plan, e.name) ? 'defined' : e.flow }));

const propertyOptions = (plan: Plan, eventName: string, of: 'property' | 'user property', numeric = false): Option[] => {
  if (of === 'user property') return entries(plan, 'userProperty').map(([, u]) => ({ value: refText(refOfProperty(u)), note: u.type }));
  const whole = withDefinedEvents(plan);
  const event = eventNamed(whole, eventName);
  return event
    ? plannedPropertiesOf(whole, event[0])
        .filter((p) => !numeric || isNumeric(p.property.type))
        .map((p) => ({ value: refText(refOfProperty(p.property)), note: p.property.unit || p.property.type }))
    : [];
};

const definitionOfProperty = (plan: Plan, eventName: string, c: Pick<Condition, 'property' | 'of'>) => {
  if (c.of === 'user property') return entries(plan, 'userProperty').find(([, u]) => sameRef(refOfProperty(u), c.property))?.[1];
  const whole = withDefinedEvents(plan);
  const event = eventNamed(whole, eventName);
  return event && plannedAt(plannedPropertiesOf(whole, event[0]), c.property)?.property;
};

/** A condition's value as the property's type has it: numbers as numbers, true and false as such, all else as text. */
const valueFor = (plan: Plan, eventName: string, c: Condition, text: string): ConditionValue => {
  const type = definitionOfProperty(plan, eventName, c)?.type;
  return type === undefined ? valueOfText(text) : (valueInType(type, text) ?? text);
};

const RemoveButton = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <button type="button" aria-label={label} className={SMALL} onClick={onClick}>
    <X size={13} />
  </button>
);

const AddButton = ({ text, label, onClick }: { text: string; label?: string; onClick: () => void }) => (
  <button type="button" aria-label={label} className={SMALL} onClick={(e) => focusAdded(e.currentTarget, onClick)}>
    <Plus size={12} />
    {text}
  </button>
);

const OWN = 'a property';
const PERSONS = 'a user property';

const ConditionSlot = ({
  plan,
  eventName,
  condition: c,
  onChange,
}: {
  plan: Plan;
  eventName: string;
  condition: Condition;
  onChange: (c: Condition) => void;
}) => {
  const known = definitionOfProperty(plan, eventName, c);
  const values = known && 'allowed' in known ? known.allowed : [];
  const options: Option[] = [
    ...propertyOptions(plan, eventName, 'property'),
    ...propertyOptions(plan, eventName, 'user property').map((o) => ({ value: o.value, note: 'of the person' })),
  ];
  const choose = (name: string): Condition => {
    const { of: _, ...rest } = c;
    const ofEvent = propertyOptions(plan, eventName, 'property').some((o) => o.value === name);
    const ofPerson = !ofEvent && propertyOptions(plan, eventName, 'user property').some((o) => o.value === name);
    return {
      ...rest,
      property: refNamed(plan, name, ofPerson ? 'user property' : 'property'),
      ...(ofPerson ? { of: 'user property' } : {}),
    };
  };
  return (
    <>
      <Choice
        label="Property"
        wire
        value={refText(c.property)}
        placeholder="property"
        options={options}
        free={(t) => `Use “${t}”, to be added to the plan`}
        onChoose={(name) => onChange(choose(name))}
      />{' '}
      <Choice
        label="Comparison"
        value={c.op ?? 'is'}
        options={OPERATORS.map((value) => ({ value }))}
        onChoose={(op) => {
          const { op: _, ...rest } = c;
          onChange(op === 'is' ? rest : { ...rest, op: op as NonNullable<Condition['op']> });
        }}
      />{' '}
      {isUnary(c.op) ? null : (
        <Choice
          label="Value"
          wire
          value={String(c.is)}
          placeholder="value"
          options={values.map((value) => ({ value }))}
          free={(t) => `The value “${t}”`}
          onChoose={(t) => onChange({ ...c, is: valueFor(plan, eventName, c, t) })}
        />
      )}
    </>
  );
};

const EventSlot = ({
  plan,
  label,
  step,
  onChange,
  onRemove,
}: {
  plan: Plan;
  label: string;
  step: Step;
  onChange: (s: Step) => void;
  onRemove: (() => void) | undefined;
}) => (
  <span>
    <Choice
      label={label}
      wire
      value={step.eventName}
      placeholder="an event"
      options={eventOptions(plan)}
      free={(t) => `Use “${t}”, to be added to the plan`}
      onChoose={(eventName) => onChange({ ...step, eventName })}
    />
    {step.where.map((c, i) => (
      <span key={i} data-line>
        {i === 0 ? ' where ' : ' and '}
        <ConditionSlot
          plan={plan}
          eventName={step.eventName}
          condition={c}
          onChange={(n) => onChange({ ...step, where: step.where.with(i, n) })}
        />
        <RemoveButton label="Remove this condition" onClick={() => onChange({ ...step, where: step.where.toSpliced(i, 1) })} />
      </span>
    ))}
    {step.eventName ? (
      <AddButton
        text="where"
        label={`Add a condition to ${step.eventName}`}
        onClick={() => onChange({ ...step, where: [...step.where, { property: '', is: '' }] })}
      />
    ) : null}
    {onRemove ? <RemoveButton label={`Remove ${step.eventName || 'this event'}`} onClick={onRemove} /> : null}
  </span>
);

const NumberSlot = ({ part, onChange }: { part: Extract<Part, { part: 'number' }>; onChange: (n: number) => void }) => {
  const { text, field } = useCommit(String(part.value), (typed) => {
    const n = Math.round(Number(typed));
    if (typed.trim() !== '' && Number.isFinite(n) && n >= part.min && n <= part.max) onChange(n);
    else
      toast.error(`${part.label}: a whole number from ${part.min} to ${part.max}; “${typed.trim()}” is none, so it stays ${part.value}.`);
    return undefined;
  });
  return (
    <input
      title={`A whole number from ${part.min} to ${part.max}`}
      aria-label={part.label}
      inputMode="numeric"
      {...field}
      className="mx-0.5 border-b-2 border-accent bg-transparent text-center font-semibold outline-offset-2"
      style={{ width: `${Math.max(2, text.length + 1)}ch` }}
    />
  );
};

const Slot = ({ plan, part, onChange }: { plan: Plan; part: Part; onChange: Props['onChange'] }) => {
  switch (part.part) {
    case 'words':
      return part.text;
    case 'event':
      return (
        <EventSlot
          plan={plan}
          label={part.label}
          step={part.step}
          onChange={(s) => onChange(part.set(s), part.label)}
          onRemove={part.remove && (() => onChange(part.remove!(), `${part.label} removed`))}
        />
      );
    case 'property':
      return (
        <Choice
          label={part.label}
          wire
          value={refText(part.value)}
          placeholder={part.of === 'property' ? OWN : PERSONS}
          options={propertyOptions(plan, part.eventName, part.of, part.numeric)}
          free={(t) => `Use “${t}”, to be added to the plan`}
          onChoose={(name) => onChange(part.set(refNamed(plan, name, part.of)), part.label)}
        />
      );
    case 'condition':
      return (
        <ConditionSlot
          plan={plan}
          eventName={part.eventName}
          condition={part.condition}
          onChange={(c) => onChange(part.set(c), 'Condition')}
        />
      );
    case 'choice':
      return (
        <Choice
          label={part.label}
          value={part.options.includes(part.value) ? part.value : ''}
          placeholder={part.value}
          options={part.options.map((value) => ({ value }))}
          onChoose={(v) => onChange(part.set(v), part.label)}
        />
      );
    case 'number':
      return <NumberSlot part={part} onChange={(n) => onChange(part.set(n), part.label)} />;
    case 'add':
      return <AddButton text={part.label} onClick={() => onChange(part.make(), `Added: ${part.label}`)} />;
    default:
      return <RemoveButton label={part.label} onClick={() => onChange(part.make(), part.label)} />;
  }
};

export const FormulaSentence = ({ plan, formula, onChange }: Props) => (
  <p className="text-[1.08rem] leading-loose" data-sentence>
    {partsOf(formula).map((part, i) => (
      <Slot key={i} plan={plan} part={part} onChange={onChange} />
    ))}
  </p>
);
