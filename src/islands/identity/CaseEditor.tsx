/** A bench case of one's own, written step by step. Every field is kept when it is left. */
import { useCommit } from '../../ui/use-commit';
import { ArrowUp, Plus, X } from 'lucide-react';
import { idsFromText, idsText } from '../../core/identity/own-cases';
import { entries, isLive, type CaseStep, type IdentityCase, type Plan } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { usePlan } from '../workplace/context';

const FIELD = 'w-full min-w-0 border border-rule bg-paper px-1.5 py-0.5 placeholder:text-ink-2 focus:border-accent';
const ICON = 'inline-flex size-6 items-center justify-center text-ink-2 hover:text-accent disabled:opacity-40';

/** A field that is kept when it is left or Enter is pressed; what cannot be read is said, and stays in the field. */
const Kept = (p: {
  label: string;
  value: string;
  keep: (text: string) => string | void;
  list?: string;
  className?: string;
  hint?: string;
}) => {
  const { problem, field } = useCommit(p.value, p.keep);
  return (
    <>
      <input
        aria-label={p.label}
        autoComplete="off"
        list={p.list}
        placeholder={p.hint}
        className={`${FIELD} ${p.className ?? ''} ${problem === undefined ? '' : 'border-stop'}`}
        {...field}
      />
      {problem === undefined ? null : (
        <span role="alert" className="block text-sm text-stop">
          {problem}
        </span>
      )}
    </>
  );
};

/** A first step: the first event, source and kind of identifier of the plan. */
const firstStep = (plan: Plan): CaseStep => ({
  title: '',
  kind: 'event',
  name: entries(plan, 'event')[0]?.[1].name ?? '',
  source: entries(plan, 'source')[0]?.[0] ?? '',
  ids: { [entries(plan, 'identifierKind')[0]?.[1].name ?? 'user']: 'a-1' },
});

export const CaseEditor = ({ own, change }: { own: IdentityCase; change: (next: IdentityCase, label: string) => void }) => {
  const plan = usePlan();
  const sources = entries(plan, 'source');
  const steps = (next: readonly CaseStep[], label: string) => change({ ...own, steps: next }, label);
  const set = (i: number, part: Partial<CaseStep>) =>
    steps(
      own.steps.map((s, k) => (k === i ? { ...s, ...part } : s)),
      `Step ${i + 1} changed`,
    );
  return (
    <div className="mt-3">
      <div className="grid grid-cols-[1fr_1.6fr_150px] gap-3">
        <label className="text-sm text-ink-2">
          Title
          <Kept
            label="Title of the case"
            value={own.title}
            keep={(t) => (t.trim() === '' ? 'A case needs a title.' : change({ ...own, title: t.trim() }, 'Case renamed'))}
          />
        </label>
        <label className="text-sm text-ink-2">
          Question it asks
          <Kept label="Question the case asks" value={own.asks} keep={(t) => change({ ...own, asks: t.trim() }, 'Case described')} />
        </label>
        <label className="text-sm text-ink-2">
          Expected persons
          <Kept
            label="Expected persons"
            value={String(own.persons)}
            keep={(t) =>
              /^\d{1,3}$/.test(t.trim()) ? change({ ...own, persons: Number(t) }, 'Persons of a case') : 'A whole number of persons.'
            }
          />
        </label>
      </div>
      <datalist id="case-events">
        {entries(plan, 'event')
          .filter(([, e]) => isLive(e))
          .map(([id, e]) => (
            <option key={id} value={e.name} />
          ))}
      </datalist>
      <ol aria-label="Steps of the case" className="mt-3 border-t border-rule">
        {own.steps.map((s, i) => (
          <li key={i} className="grid grid-cols-[18px_1fr_1fr_52px] gap-x-2 gap-y-1 border-b border-rule py-1.5">
            <span className="text-ink-2 figures">{i + 1}</span>
            <Kept label={`Step ${i + 1}, what happens`} value={s.title} keep={(title) => set(i, { title: title.trim() })} />
            <select
              aria-label={`Step ${i + 1}, source`}
              className={`${FIELD} h-[27px]`}
              value={s.source}
              onChange={(e) => set(i, { source: e.target.value })}
            >
              {sources.some(([id]) => id === s.source) ? null : <option value={s.source}>{s.source}</option>}
              {sources.map(([id, x]) => (
                <option key={id} value={id}>
                  {x.name}
                </option>
              ))}
            </select>
            <span className="text-right whitespace-nowrap">
              <button
                type="button"
                aria-label={`Step ${i + 1} up`}
                className={ICON}
                disabled={i === 0}
                onClick={() => steps([...own.steps.slice(0, i - 1), s, own.steps[i - 1]!, ...own.steps.slice(i + 1)], 'Step moved')}
              >
                <ArrowUp size={14} />
              </button>
              <button
                type="button"
                aria-label={`Remove step ${i + 1}`}
                className={ICON}
                onClick={() =>
                  steps(
                    own.steps.filter((_, k) => k !== i),
                    'Step removed',
                  )
                }
              >
                <X size={14} />
              </button>
            </span>
            <div className="col-start-2">
              <Kept
                label={`Step ${i + 1}, event`}
                list="case-events"
                className="wire"
                hint="identify call"
                value={s.name}
                keep={(name) => set(i, { name: name.trim(), kind: name.trim() === '' ? 'identify' : 'event' })}
              />
            </div>
            <div>
              <Kept
                label={`Step ${i + 1}, identifiers`}
                className="wire"
                hint="anonymous a-1 + user m-1"
                value={idsText(s.ids)}
                keep={(t) => {
                  const ids = idsFromText(t);
                  return typeof ids === 'string' ? ids : set(i, { ids });
                }}
              />
            </div>
          </li>
        ))}
      </ol>
      <p className="mt-1 text-sm text-ink-2">
        Without an event it is an identify call. Identifiers are written as “anonymous a-1 + user m-1”.
      </p>
      <Button look="quiet" className="mt-1" onClick={() => steps([...own.steps, own.steps.at(-1) ?? firstStep(plan)], 'Step added')}>
        <Plus size={14} /> Step
      </Button>
    </div>
  );
};
