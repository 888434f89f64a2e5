/** The steps of a trial, edited where they are read. */
import { ArrowDown, ArrowUp, Copy, Plus, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { setField } from '../../../core/plan/edit';
import { entries, propertiesOf, type Id } from '../../../core/plan/plan';
import { refKey, refOfKey, refOfProperty, refText } from '../../../core/plan/property-path';
import type { Expected, TrialScript, TrialStep, Wanted, WantedValue } from '../../../core/trial/script';
import { Button } from '../../../ui/Button';
import { TextField } from '../../../ui/TextField';
import { usePlan, useWorkplace } from '../../workplace/context';
import { added, changed, duplicated, expectedChanged, moved, TIMES, timesText, valueChanged, without } from './step-edits';

const SELECT = 'border border-rule bg-paper px-1 py-0.5 text-sm max-w-full';
const ICON = 'inline-flex min-h-[24px] min-w-[24px] items-center justify-center text-ink-2 hover:text-accent disabled:opacity-30';
const newId = (): string => crypto.randomUUID().slice(0, 8);

const WANTED: readonly { readonly is: Wanted['is']; readonly title: string }[] = [
  { is: 'exactly', title: 'is exactly' },
  { is: 'like', title: 'is like' },
  { is: 'remembered', title: 'is as remembered' },
  { is: 'any', title: 'is there' },
];

const textOf = (w: Wanted): string => (w.is === 'exactly' ? w.value : w.is === 'like' ? w.pattern : w.is === 'remembered' ? w.as : '');
const wantedOf = (is: Wanted['is'], text: string): Wanted => {
  switch (is) {
    case 'exactly':
      return { is, value: text };
    case 'like':
      return { is, pattern: text };
    case 'remembered':
      return { is, as: text || 'value' };
    case 'any':
      return { is };
  }
};

/** Some of a few, in a list that opens under its button. */
const Several = ({
  label,
  none,
  said,
  options,
  chosen,
  onChange,
}: {
  label: string;
  none: string;
  said: (titles: readonly string[]) => string;
  options: readonly { readonly value: string; readonly title: string }[];
  chosen: readonly string[];
  onChange: (next: string[]) => void;
}) => {
  const titles = options.filter((o) => chosen.includes(o.value)).map((o) => o.title);
  const text = titles.length === 0 ? none : said(titles);
  return (
    <Popover.Root>
      <Popover.Trigger aria-label={`${label}: ${text}`} className={`${SELECT} min-h-[24px] text-left`}>
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 min-w-40 border border-ink bg-paper px-3 py-2 shadow-[4px_4px_0_var(--rule)]"
        >
          <fieldset>
            <legend className="sr-only">{label}</legend>
            {options.length === 0 ? <p className="text-sm text-ink-2">The plan has none yet.</p> : null}
            {options.map((o) => (
              <label key={o.value} className="flex min-h-[24px] items-center gap-2 text-sm">
                <input
                  type="checkbox"
                  className="accent-accent"
                  checked={chosen.includes(o.value)}
                  onChange={(x) => onChange(x.target.checked ? [...chosen, o.value] : chosen.filter((v) => v !== o.value))}
                />
                {o.title}
              </label>
            ))}
          </fieldset>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};

const ValueRow = ({
  eventName,
  value,
  onValue,
}: {
  eventName: string;
  value: WantedValue;
  onValue: (v: WantedValue | undefined) => void;
}) => {
  const plan = usePlan();
  const event = entries(plan, 'event').find(([, e]) => e.name === eventName)?.[1];
  const refs = event ? propertiesOf(plan, event).map((p) => refOfProperty(p.property)) : [];
  const own = refKey(value.property);
  return (
    <span className="flex flex-wrap items-center gap-1 py-0.5 pl-4 text-sm">
      <select
        aria-label="Property"
        className={`${SELECT} wire`}
        value={own}
        onChange={(e) => onValue({ ...value, property: refOfKey(e.target.value) })}
      >
        {[...new Set([own, ...refs.map(refKey)])].map((k) => (
          <option key={k} value={k}>
            {refText(refOfKey(k))}
          </option>
        ))}
      </select>
      <select
        aria-label="How the value must be"
        className={SELECT}
        value={value.wanted.is}
        onChange={(e) => onValue({ ...value, wanted: wantedOf(WANTED.find((w) => w.is === e.target.value)!.is, textOf(value.wanted)) })}
      >
        {WANTED.map((w) => (
          <option key={w.is} value={w.is}>
            {w.title}
          </option>
        ))}
      </select>
      {value.wanted.is === 'any' ? null : (
        <span className="w-32">
          <TextField
            label="Value"
            value={textOf(value.wanted)}
            placeholder={value.wanted.is === 'like' ? '^T-' : 'value'}
            className="wire"
            onSave={(t) => onValue({ ...value, wanted: wantedOf(value.wanted.is, t) })}
          />
        </span>
      )}
      <span className="text-ink-2">remember as</span>
      <span className="w-24">
        <TextField
          label="Remember as"
          value={value.remember ?? ''}
          placeholder="nothing"
          onSave={(t) => onValue({ property: value.property, wanted: value.wanted, ...(t === '' ? {} : { remember: t }) })}
        />
      </span>
      <button type="button" aria-label="Remove the value" className={ICON} onClick={() => onValue(undefined)}>
        <X size={13} />
      </button>
    </span>
  );
};

const ExpectedRow = ({
  expected: e,
  onChange,
  onRemove,
}: {
  expected: Expected;
  onChange: (next: Partial<Expected>) => void;
  onRemove: () => void;
}) => {
  const plan = usePlan();
  const names = [
    ...new Set([
      e.event,
      ...entries(plan, 'event')
        .filter(([, x]) => !x.retired)
        .map(([, x]) => x.name),
    ]),
  ].filter(Boolean);
  const event = entries(plan, 'event').find(([, x]) => x.name === e.event)?.[1];
  const first = event ? propertiesOf(plan, event)[0] : undefined;
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k.name);
  const asked = event?.sources.map((s) => s.sourceId) ?? [];
  // What is chosen already stays in sight, should the plan no longer ask it.
  const sources = [...new Set([...asked, ...e.sources])].map((value) => ({ value, title: plan.source[value]?.name ?? value }));
  return (
    <div className="py-0.5">
      <span className="flex flex-wrap items-center gap-1">
        <select
          aria-label="Expected event"
          className={`${SELECT} wire`}
          value={e.event}
          onChange={(x) => onChange({ event: x.target.value })}
        >
          {names.map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
        <select
          aria-label="How often"
          className={SELECT}
          value={timesText(e)}
          onChange={(x) => {
            const t = TIMES.find((y) => y.title === x.target.value);
            if (t) onChange({ min: t.min, max: t.max });
          }}
        >
          {[...new Set([timesText(e), ...TIMES.map((t) => t.title)])].map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
        <Several
          label={`Sources of ${e.event}`}
          none="from any source"
          said={(names) => `from ${names.join(' or ')}`}
          options={sources}
          chosen={e.sources}
          onChange={(next) => onChange({ sources: next })}
        />
        <Several
          label={`Identifiers on ${e.event}`}
          none="any identifier"
          said={(names) => `with ${names.join(' and ')}`}
          options={kinds.map((k) => ({ value: k, title: k }))}
          chosen={e.ids}
          onChange={(next) => onChange({ ids: next })}
        />
        {first ? (
          <button
            type="button"
            className="min-h-[24px] text-sm text-accent"
            onClick={() => onChange({ values: [...e.values, { property: refOfProperty(first.property), wanted: { is: 'any' } }] })}
          >
            + value
          </button>
        ) : null}
        <button type="button" aria-label={`Do not expect ${e.event}`} className={ICON} onClick={onRemove}>
          <X size={13} />
        </button>
      </span>
      {e.values.map((v, i) => (
        <ValueRow key={i} eventName={e.event} value={v} onValue={(next) => onChange({ values: valueChanged(e, i, next) })} />
      ))}
    </div>
  );
};

const StepRow = ({
  step,
  number,
  last,
  onChange,
  onMove,
  onDuplicate,
  onRemove,
}: {
  step: TrialStep;
  number: number;
  last: boolean;
  onChange: (next: Partial<TrialStep>) => void;
  onMove: (by: -1 | 1) => void;
  onDuplicate: () => void;
  onRemove: () => void;
}) => {
  const plan = usePlan();
  const names = entries(plan, 'event')
    .filter(([, e]) => !e.retired && e.name !== '')
    .map(([, e]) => e.name);
  return (
    <li className="flex gap-3 border-t border-rule py-2">
      <b className="w-5 shrink-0 text-right text-ink-2">{number}</b>
      <div className="min-w-0 flex-1">
        <TextField
          label={`What is done in step ${number}`}
          value={step.does}
          placeholder="What the tester does"
          className="font-medium"
          onSave={(does) => onChange({ does })}
        />
        {step.expects.map((e, i) => (
          <ExpectedRow
            key={i}
            expected={e}
            onChange={(next) => onChange({ expects: expectedChanged(step, i, next) })}
            onRemove={() => onChange({ expects: step.expects.filter((_, j) => j !== i) })}
          />
        ))}
        {step.forbids.map((f) => (
          <span key={f} className="mr-2 inline-flex items-center gap-1 text-sm">
            <b className="text-stop">must not come</b> <span className="wire">{f}</span>
            <button
              type="button"
              aria-label={`Let ${f} come`}
              className={ICON}
              onClick={() => onChange({ forbids: step.forbids.filter((x) => x !== f) })}
            >
              <X size={13} />
            </button>
          </span>
        ))}
        <span className="mt-0.5 flex flex-wrap items-center gap-2 text-sm">
          <select
            aria-label={`Expect an event in step ${number}`}
            className={SELECT}
            value=""
            onChange={(e) =>
              onChange({ expects: [...step.expects, { event: e.target.value, min: 1, max: 1, sources: [], values: [], ids: [] }] })
            }
          >
            <option value="">expect …</option>
            {names.map((n) => (
              <option key={n}>{n}</option>
            ))}
          </select>
          <select
            aria-label={`Forbid an event in step ${number}`}
            className={SELECT}
            value=""
            onChange={(e) => onChange({ forbids: [...new Set([...step.forbids, e.target.value])] })}
          >
            <option value="">must not come …</option>
            {names
              .filter((n) => !step.forbids.includes(n))
              .map((n) => (
                <option key={n}>{n}</option>
              ))}
          </select>
          {step.expects.length > 1 ? (
            <label className="flex items-center gap-1">
              <input
                type="checkbox"
                className="accent-accent"
                checked={step.inOrder}
                onChange={(e) => onChange({ inOrder: e.target.checked })}
              />{' '}
              in this order
            </label>
          ) : null}
          <label className="flex items-center gap-1">
            wait
            <input
              type="number"
              min={1}
              max={86_400}
              aria-label={`Seconds that step ${number} waits`}
              className="w-16 border border-rule bg-transparent px-1"
              value={Math.round(step.waitMs / 1000)}
              onChange={(e) => {
                const s = Number(e.target.value);
                if (s >= 1 && s <= 86_400) onChange({ waitMs: s * 1000 });
              }}
            />
            s
          </label>
        </span>
      </div>
      <span className="flex shrink-0 flex-col">
        <span className="flex">
          <button type="button" aria-label={`Move step ${number} up`} className={ICON} disabled={number === 1} onClick={() => onMove(-1)}>
            <ArrowUp size={14} />
          </button>
          <button type="button" aria-label={`Move step ${number} down`} className={ICON} disabled={last} onClick={() => onMove(1)}>
            <ArrowDown size={14} />
          </button>
        </span>
        <span className="flex">
          <button type="button" aria-label={`Duplicate step ${number}`} className={ICON} onClick={onDuplicate}>
            <Copy size={14} />
          </button>
          <button type="button" aria-label={`Remove step ${number}`} className={ICON} onClick={onRemove}>
            <X size={14} />
          </button>
        </span>
      </span>
    </li>
  );
};

export const TrialEditor = ({ id, trial }: { id: Id; trial: TrialScript }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const { steps } = trial;
  const put = (next: readonly TrialStep[], label: string): void => {
    const edit = setField(plan, 'trial', id, 'steps', next);
    if (edit) store.apply([edit], label);
  };
  return (
    <section aria-label="Steps">
      <ol>
        {steps.map((s, i) => (
          <StepRow
            key={s.id}
            step={s}
            number={i + 1}
            last={i === steps.length - 1}
            onChange={(next) => put(changed(steps, i, next), 'Step of a trial')}
            onMove={(by) => put(moved(steps, i, i + by), 'Order of steps')}
            onDuplicate={() => put(duplicated(steps, i, newId()), 'Duplicate step')}
            onRemove={() => put(without(steps, i), 'Remove step')}
          />
        ))}
      </ol>
      <Button className="mt-2 text-sm" onClick={() => put(added(steps, newId()), 'Add step')}>
        <Plus size={14} /> Add step
      </Button>
    </section>
  );
};
