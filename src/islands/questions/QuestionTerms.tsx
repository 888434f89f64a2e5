/** What is said of a question beside its words: kind, priority, place in the list, and how much must conform before it is cleared. */
import { WANTED, wantedOf } from '../../core/clearance/wanted';
import { useCommit } from '../../ui/use-commit';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { setField } from '../../core/plan/edit';
import { orderEdits } from '../../core/plan/order';
import { thresholdsOf, workspaceThresholds } from '../../core/clearance/thresholds';
import { entries, type Id, type OwnThresholds, type Question, type Thresholds } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { decimal } from '../../ui/format';
import { authorName } from '../workplace/author';
import { usePlan, useWorkplace } from '../workplace/context';

const PRIORITIES = [
  { value: 1, title: 'first' },
  { value: 2, title: 'usual' },
  { value: 3, title: 'later' },
] as const;

export const priorityTitle = (priority: number): string => PRIORITIES.find((p) => p.value === priority)?.title ?? String(priority);

const BOX = 'border border-rule bg-paper px-1 py-0.5';

/** A share, written as percent. */
const Percent = ({
  label,
  value,
  unit = '%',
  onSave,
}: {
  label: string;
  value: number;
  unit?: string;
  onSave: (share: number) => string | undefined;
}) => {
  const { problem: error, field } = useCommit(decimal(value * 100), (text) => {
    const n = Number(text.trim().replace(',', '.'));
    return text.trim() === '' || !(n >= 0 && n <= 100) ? `“${text}” is not a share from 0 to 100 %.` : onSave(n / 100);
  });
  return (
    <label className="block">
      <span className="flex items-center gap-2">
        {label}
        <input inputMode="decimal" className={`${BOX} ml-auto w-16 text-right figures`} {...field} />
        <span className="w-10">{unit}</span>
      </span>
      {error ? (
        <span role="alert" className="block text-sm text-stop">
          {error}
        </span>
      ) : null}
    </label>
  );
};

/** Thresholds of its own: who set them, and why. */
const OwnReason = ({ own, onSave, onReset }: { own: OwnThresholds; onSave: (text: string) => string | undefined; onReset: () => void }) => {
  const { problem: error, field } = useCommit(own.why ?? '', onSave);
  return (
    <div className="text-sm">
      <input
        aria-label="Why these thresholds"
        placeholder="Why these thresholds?"
        className={`${BOX} w-full placeholder:text-ink-2`}
        {...field}
      />
      {error ? (
        <p role="alert" className="text-stop">
          {error}
        </p>
      ) : null}
      <p className="flex items-center text-ink-2">
        {own.by ? `Set by ${own.by}` : 'Of its own'}
        <Button look="quiet" className="ml-auto text-sm" onClick={onReset}>
          Use the workspace’s
        </Button>
      </p>
    </div>
  );
};

export const QuestionTerms = ({ id, question }: { id: Id; question: Question }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const set = <F extends keyof Question>(field: F, value: Question[F], label: string): void => {
    const edit = setField(plan, 'question', id, field, value);
    if (edit) store.apply([edit], label);
  };
  const ordered = entries(plan, 'question')
    .sort(([, a], [, b]) => a.order - b.order)
    .map(([qid]) => qid);
  const at = ordered.indexOf(id);
  const move = (by: -1 | 1): void => {
    const moved = [...ordered];
    moved.splice(at, 1);
    moved.splice(at + by, 0, id);
    store.apply(orderEdits(plan, 'question', moved), `Moved “${question.text}”`);
  };
  const { clear, caution } = thresholdsOf(plan, question);
  const wanted = wantedOf(question.formula);
  const usual = workspaceThresholds(plan);
  const threshold = (next: Partial<Thresholds>): string | undefined => {
    const both = { clear, caution, ...next };
    if (both.caution > both.clear) return 'Caution begins below clear, not above it.';
    const isUsual = both.clear === usual.clear && both.caution === usual.caution;
    set('thresholds', isUsual ? undefined : { ...question.thresholds, ...both, by: authorName() }, 'Clearance thresholds');
    return undefined;
  };
  const why = (text: string): string | undefined => {
    if (text.length > 500) return 'At most 500 characters.';
    set('thresholds', { clear, caution, ...question.thresholds, why: text.trim(), by: authorName() }, 'Why these thresholds');
    return undefined;
  };
  return (
    <div className="space-y-1.5">
      <div className="flex items-center gap-2">
        <select
          aria-label="Kind"
          className={BOX}
          value={question.kind}
          onChange={(e) => set('kind', e.target.value as Question['kind'], 'Kind')}
        >
          <option value="question">question</option>
          <option value="metric">metric</option>
        </select>
        <select
          aria-label="Priority"
          className={BOX}
          value={question.priority}
          onChange={(e) => set('priority', Number(e.target.value), 'Priority')}
        >
          {PRIORITIES.map((p) => (
            <option key={p.value} value={p.value}>
              {p.title}
            </option>
          ))}
        </select>
        <span className="ml-auto flex">
          <Button
            look="quiet"
            className="min-h-[26px] min-w-[26px] justify-center !px-1"
            aria-label="Earlier in the list"
            title="Earlier in the list"
            disabled={at <= 0}
            onClick={() => move(-1)}
          >
            <ArrowUp size={14} />
          </Button>
          <Button
            look="quiet"
            className="min-h-[26px] min-w-[26px] justify-center !px-1"
            aria-label="Later in the list"
            title="Later in the list"
            disabled={at === ordered.length - 1}
            onClick={() => move(1)}
          >
            <ArrowDown size={14} />
          </Button>
        </span>
      </div>
      <Percent label="Clear from" value={clear} onSave={(share) => threshold({ clear: share })} />
      <Percent label="Caution from" value={caution} onSave={(share) => threshold({ caution: share })} />
      {question.thresholds ? (
        <OwnReason own={question.thresholds} onSave={why} onReset={() => set('thresholds', undefined, 'Thresholds of the workspace')} />
      ) : (
        <p className="text-sm text-ink-2">These are the workspace’s thresholds.</p>
      )}
      <Percent
        label="Known within ±"
        unit={wanted === 'share' ? 'points' : '%'}
        value={question.precision ?? WANTED[wanted].value}
        onSave={(half) => {
          if (half === 0) return 'Nothing is known without any doubt; write more than 0.';
          set('precision', half === WANTED[wanted].value ? undefined : half, 'Precision');
          return undefined;
        }}
      />
    </div>
  );
};
