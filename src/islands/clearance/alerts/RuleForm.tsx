/** A rule, written: when, about what, to whom. */
import { useForm, type UseFormRegisterReturn } from 'react-hook-form';
import { ALERT_KINDS, KIND_TEXT } from '../../../core/alerts/kinds';
import type { AlertRule } from '../../../core/alerts/rule';
import { entries } from '../../../core/plan/plan';
import { Button } from '../../../ui/Button';
import { Cancel, OpenForm } from '../../../ui/OpenForm';
import { usePlan } from '../../workplace/context';

const FIELD = 'border border-rule bg-paper px-1.5 py-1';

interface Props {
  readonly rule: AlertRule;
  /** Why no mail can be sent. */
  readonly noMail: string | null;
  readonly receiver: string | null;
  /** The page of the stand-in mailbox, where mail ends in it. */
  readonly mailbox: string | null;
  readonly onSave: (rule: AlertRule) => Promise<void>;
  readonly onCancel: () => void;
}

interface Option {
  readonly value: string;
  readonly title: string;
}

/** Several of a list; none means all. */
const Several = ({ title, options, field }: { title: string; options: readonly Option[]; field: UseFormRegisterReturn }) =>
  options.length === 0 ? null : (
    <fieldset className="min-w-0">
      <legend className="text-sm text-ink-2">{title}, none for all</legend>
      <div className="max-h-[92px] overflow-y-auto border border-rule px-2 py-1">
        {options.map((o) => (
          <label key={o.value} className="flex min-h-[24px] items-center gap-2 text-sm leading-tight">
            <input type="checkbox" className="accent-accent" value={o.value} {...field} />
            <span className="min-w-0 truncate" title={o.title}>
              {o.title}
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  );

/** A list with one box alone is given as its value, or as false. */
const chosen = <T extends string>(v: readonly T[] | T | false): T[] => (v === false ? [] : typeof v === 'string' ? [v] : [...v]);

export const RuleForm = ({ rule, noMail, receiver, mailbox, onSave, onCancel }: Props) => {
  const plan = usePlan();
  const { register, handleSubmit, formState, setError, setValue, watch } = useForm<AlertRule>({
    defaultValues: { ...rule, kinds: [...rule.kinds], questions: [...rule.questions], events: [...rule.events], sources: [...rule.sources], owners: [...rule.owners] }, // prettier-ignore
  });
  const by = watch('by');
  const owners = [...new Set([...entries(plan, 'event').map(([, e]) => e.owner), ...entries(plan, 'source').map(([, s]) => s.owner), ...entries(plan, 'question').map(([, q]) => q.owner)])].filter((o) => o !== '').sort(); // prettier-ignore
  const problem = formState.errors.root?.message;
  const save = handleSubmit(async (r) => {
    try {
      const { kinds, questions, events, sources, owners: of } = r;
      await onSave({
        ...r,
        kinds: chosen(kinds),
        questions: chosen(questions),
        events: chosen(events),
        sources: chosen(sources),
        owners: chosen(of),
        to: r.by === 'inbox' ? '' : r.to,
      });
    } catch (e) {
      setError('root', { message: (e as Error).message });
    }
  });
  return (
    <OpenForm aria-label="Rule" className="my-3 border border-ink p-4" onSubmit={(e) => void save(e)} onClose={onCancel}>
      <div className="flex flex-wrap items-center gap-3">
        <input
          autoFocus
          aria-label="Name of the rule"
          placeholder="Name of the rule"
          autoComplete="off"
          className={`${FIELD} min-w-[200px] flex-1 font-semibold`}
          {...register('name')}
        />
        <label className="flex items-center gap-1.5">
          <input type="checkbox" className="accent-accent" {...register('active')} /> in force
        </label>
        <label className="flex items-center gap-1.5">
          from
          <select className={FIELD} {...register('severity')}>
            <option>stop</option>
            <option>caution</option>
            <option>note</option>
          </select>
          on
        </label>
      </div>
      <fieldset className="mt-3">
        <legend className="text-sm text-ink-2">Tell when</legend>
        <div className="grid grid-cols-2 gap-x-4 xl:grid-cols-3">
          {ALERT_KINDS.map((k) => (
            <label key={k} className="flex min-h-[24px] items-center gap-2 text-sm">
              <input type="checkbox" className="accent-accent" value={k} {...register('kinds')} />
              {KIND_TEXT[k]}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="mt-3 grid grid-cols-2 gap-3">
        <Several
          title="Questions"
          options={entries(plan, 'question').map(([id, q]) => ({ value: id, title: q.text || id }))}
          field={register('questions')}
        />
        <Several
          title="Events"
          options={entries(plan, 'event').map(([, e]) => ({ value: e.name, title: e.name }))}
          field={register('events')}
        />
        <Several
          title="Sources"
          options={entries(plan, 'source').map(([id, s]) => ({ value: id, title: s.name }))}
          field={register('sources')}
        />
        <Several title="Owners" options={owners.map((o) => ({ value: o, title: o }))} field={register('owners')} />
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-1.5">
          tell by
          <select className={FIELD} {...register('by')}>
            <option value="inbox">inbox alone</option>
            <option value="webhook">webhook</option>
            <option value="mail">mail</option>
          </select>
        </label>
        {by === 'inbox' ? null : (
          <>
            <input
              aria-label="Where to"
              placeholder={by === 'webhook' ? 'https://example.org/alerts' : 'team@example.org'}
              autoComplete="off"
              className={`${FIELD} min-w-[220px] flex-1`}
              {...register('to')}
            />
            <select aria-label="Pace" className={FIELD} {...register('pace')}>
              <option value="at once">at once</option>
              <option value="daily">once a day, at 8</option>
            </select>
          </>
        )}
      </div>
      {by === 'webhook' && receiver !== null ? (
        <p className="mt-1 text-sm text-ink-2">
          To try it:{' '}
          <button type="button" className="text-accent underline decoration-dotted" onClick={() => setValue('to', receiver)}>
            the stand-in receiver
          </button>
          , which{' '}
          <a href="/stand-ins/receiver" target="_blank" className="text-accent underline decoration-dotted">
            shows what came
          </a>
          .
        </p>
      ) : null}
      {by === 'mail' && mailbox !== null ? (
        <p className="mt-1 text-sm text-ink-2">
          Mail of the demo ends in{' '}
          <a href={mailbox} target="_blank" className="text-accent underline decoration-dotted">
            its own mailbox
          </a>
          , whomever it is for.
        </p>
      ) : null}
      {by === 'mail' && noMail !== null ? <p className="mt-1 text-sm text-caution">{noMail}</p> : null}
      {problem === undefined ? null : (
        <p role="alert" className="mt-2 text-stop">
          {problem}
        </p>
      )}
      <p className="mt-3 flex gap-2">
        <Button type="submit" look="full" disabled={formState.isSubmitting}>
          Save rule
        </Button>
        <Cancel className="" />
      </p>
    </OpenForm>
  );
};
