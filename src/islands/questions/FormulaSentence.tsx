/** The formula as a sentence in which the chosen parts are edited in place. */
import { Plus, X } from 'lucide-react';
import { entries, findEvent, propertiesOf, type Plan } from '../../core/plan/plan';
import { isNumeric } from '../../core/plan/property-type';
import {
  DAY_MS,
  PERIODS,
  spanText,
  type Condition,
  type ConditionValue,
  type Formula,
  type Period,
  type Step,
} from '../../core/questions/formula';
import { Choice, type Option } from '../../ui/Choice';

const WINDOWS = [3_600_000, DAY_MS, 3 * DAY_MS, 5 * DAY_MS, 7 * DAY_MS, 14 * DAY_MS, 28 * DAY_MS];
const OVER = [7, 14, 28, 56, 90];
const SMALL = 'text-accent hover:bg-wash mx-0.5 inline-flex items-center gap-0.5 px-1 text-sm font-semibold align-middle';

interface Props {
  readonly plan: Plan;
  readonly formula: Formula;
  readonly onChange: (formula: Formula, what: string) => void;
}

const eventOptions = (plan: Plan): Option[] => entries(plan, 'event').map(([, e]) => ({ value: e.name, note: e.flow }));

/** A condition's value as the property's type has it: numbers as numbers, true and false as such, all else as text. */
const valueFor = (plan: Plan, step: Step, property: string, text: string): ConditionValue => {
  const event = findEvent(plan, step.eventName)?.[1];
  const type = event && propertiesOf(plan, event).find((p) => p.property.name === property)?.property.type;
  if (type && isNumeric(type) && text.trim() !== '' && Number.isFinite(Number(text))) return Number(text);
  if (type === 'boolean') return text === 'true';
  return text;
};

const Where = ({
  plan,
  step,
  index,
  onChange,
  onRemove,
}: {
  plan: Plan;
  step: Step;
  index: number;
  onChange: (c: Condition) => void;
  onRemove: () => void;
}) => {
  const c = step.where[index]!;
  const event = findEvent(plan, step.eventName)?.[1];
  const planned = event ? propertiesOf(plan, event) : [];
  const values = planned.find((p) => p.property.name === c.property)?.property;
  return (
    <>
      {index === 0 ? ' where ' : ' and '}
      <Choice
        label="Property"
        wire
        value={c.property}
        placeholder="property"
        options={planned.map((p) => ({ value: p.property.name, note: p.property.type }))}
        free={(t) => `Use “${t}”, to be added to the plan`}
        onChoose={(property) => onChange({ property, is: c.is })}
      />
      {' is '}
      <Choice
        label="Value"
        wire
        value={String(c.is)}
        placeholder="value"
        options={(values?.allowed ?? []).map((value) => ({ value }))}
        free={(t) => `The value “${t}”`}
        onChoose={(t) => onChange({ ...c, is: valueFor(plan, step, c.property, t) })}
      />
      <button type="button" aria-label="Remove this condition" className={SMALL} onClick={onRemove}>
        <X size={13} />
      </button>
    </>
  );
};

const StepPart = ({
  plan,
  step,
  label,
  onChange,
  onRemove,
}: {
  plan: Plan;
  step: Step;
  label: string;
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
    {step.where.map((_, i) => (
      <Where
        key={i}
        plan={plan}
        step={step}
        index={i}
        onChange={(c) => onChange({ ...step, where: step.where.with(i, c) })}
        onRemove={() => onChange({ ...step, where: step.where.toSpliced(i, 1) })}
      />
    ))}
    {step.eventName ? (
      <button
        type="button"
        className={SMALL}
        aria-label={`Add a condition to ${step.eventName}`}
        onClick={() => onChange({ ...step, where: [...step.where, { property: '', is: '' }] })}
      >
        <Plus size={12} />
        where
      </button>
    ) : null}
    {onRemove ? (
      <button type="button" className={SMALL} aria-label={`Remove ${step.eventName || 'this event'}`} onClick={onRemove}>
        <X size={13} />
      </button>
    ) : null}
  </span>
);

const EMPTY_STEP: Step = { eventName: '', where: [] };

const AddStep = ({ text, onAdd }: { text: string; onAdd: () => void }) => (
  <button type="button" className={SMALL} onClick={onAdd}>
    <Plus size={12} />
    {text}
  </button>
);

const choiceOf = <T,>(values: readonly T[], text: (v: T) => string, onChoose: (v: T) => void) => ({
  options: values.map((v) => ({ value: text(v) })),
  onChoose: (chosen: string) => {
    const v = values.find((x) => text(x) === chosen);
    if (v !== undefined) onChoose(v);
  },
});

export const FormulaSentence = ({ plan, formula, onChange }: Props) => {
  if (formula.type === 'active persons') {
    const events = formula.events.length > 0 ? formula.events : [EMPTY_STEP];
    const set = (next: readonly Step[], what: string) => onChange({ ...formula, events: next }, what);
    return (
      <p className="text-[1.08rem] leading-loose">
        Persons with{' '}
        {events.map((s, i) => (
          <span key={i}>
            {i > 0 ? ' or ' : ''}
            <StepPart
              plan={plan}
              step={s}
              label={`Event ${i + 1}`}
              onChange={(n) => set(events.with(i, n), 'Event of the formula')}
              onRemove={events.length > 1 ? () => set(events.toSpliced(i, 1), 'Event removed') : undefined}
            />
          </span>
        ))}{' '}
        <AddStep text="or" onAdd={() => set([...events, EMPTY_STEP], 'Event added')} /> in a calendar{' '}
        <Choice
          label="Period"
          value={formula.period}
          {...choiceOf<Period>(PERIODS, String, (period) => onChange({ ...formula, period }, 'Period'))}
        />
        , counted fully linked.
      </p>
    );
  }
  const steps = [...formula.steps, EMPTY_STEP, EMPTY_STEP].slice(0, Math.max(2, formula.steps.length));
  const set = (next: readonly Step[], what: string) => onChange({ ...formula, steps: next }, what);
  return (
    <p className="text-[1.08rem] leading-loose">
      Of persons with{' '}
      {steps.map((s, i) => (
        <span key={i}>
          {i === 1 ? ', the share with ' : i > 1 ? ', then ' : ''}
          <StepPart
            plan={plan}
            step={s}
            label={`Step ${i + 1}`}
            onChange={(n) => set(steps.with(i, n), 'Step of the formula')}
            onRemove={steps.length > 2 ? () => set(steps.toSpliced(i, 1), 'Step removed') : undefined}
          />
          {i === 0 ? (
            <>
              {' in the last '}
              <Choice
                label="Days looked at"
                value={`${formula.overDays} days`}
                {...choiceOf(
                  OVER,
                  (d) => `${d} days`,
                  (overDays) => onChange({ ...formula, overDays }, 'Days looked at'),
                )}
              />
            </>
          ) : null}
        </span>
      ))}{' '}
      <AddStep text="then" onAdd={() => set([...steps, EMPTY_STEP], 'Step added')} /> within{' '}
      <Choice
        label="Window"
        value={spanText(formula.windowMs)}
        {...choiceOf(WINDOWS, spanText, (windowMs) => onChange({ ...formula, windowMs }, 'Window'))}
      />
      , counted fully linked.
    </p>
  );
};
