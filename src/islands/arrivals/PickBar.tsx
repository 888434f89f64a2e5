/** Messages picked out of the live view, as the steps of a question. */
import { X } from 'lucide-react';
import { toast } from '../../ui/toast';
import type { LiveMessage } from '../../core/arrival/live-message';
import { blank } from '../../core/plan/defaults';
import { eventNamed } from '../../core/plan/plan-index';
import { formulaFromMessages } from '../../core/questions/from-messages';
import { Button } from '../../ui/Button';
import { wantFocus } from '../../ui/focus-added';
import { places } from '../workplace/place';
import { usePlan, useWorkplace } from '../workplace/context';

export interface Pick {
  readonly message: LiveMessage;
  /** The property whose value becomes the condition. */
  readonly by?: string;
}

const propertiesOf = (m: LiveMessage): Record<string, unknown> =>
  typeof m.body['properties'] === 'object' && m.body['properties'] !== null ? (m.body['properties'] as Record<string, unknown>) : {};

export const PickBar = ({
  picks,
  onPicks,
  onDone,
}: {
  picks: readonly Pick[];
  onPicks: (p: readonly Pick[]) => void;
  onDone: () => void;
}) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const ordered = [...picks].sort((a, b) => a.message.occurredAt - b.message.occurredAt);
  const make = (): void => {
    const formula = formulaFromMessages(
      picks.map(({ message, by }) => ({
        name: eventNamed(plan, message.name)?.[1].name ?? message.name,
        occurredAt: message.occurredAt,
        properties: propertiesOf(message),
        ...(by === undefined ? {} : { by }),
      })),
    );
    if (!formula) return;
    const id = crypto.randomUUID();
    const order = Math.max(0, ...Object.values(plan.question).map((q) => q.order)) + 1;
    const text = ordered.map((p) => p.message.name).join(', then ');
    const edit = { op: 'create', kind: 'question', id, body: blank('question', { text, formula, order }) } as const;
    const saved = () => toast('The question is at the Questions station; add its decision and owner. Undo with Ctrl Z.');
    if (!store.apply([edit], 'Question from messages', saved)) return;
    onDone();
    wantFocus(id);
    go(...places.question(id));
  };
  return (
    <section aria-label="Picked messages" className="border-t-2 border-ink bg-ground px-3 py-2">
      <p className="flex flex-wrap items-center gap-x-3">
        <b>Picked</b>
        <span className="order-last w-full text-sm text-ink-2">
          {picks.length === 0
            ? 'Select messages above; they become the steps of a question, in order.'
            : 'the steps, in the order in which they happened'}
        </span>
        <span className="ml-auto flex gap-1">
          <Button look="quiet" className="text-sm" onClick={onDone}>
            Cancel
          </Button>
          <Button look="full" className="text-sm" disabled={picks.length === 0} onClick={make}>
            Create question
          </Button>
        </span>
      </p>
      <ol className="mt-1 max-h-36 overflow-y-auto">
        {ordered.map((p, i) => {
          const values = Object.entries(propertiesOf(p.message)).filter(([, v]) => ['string', 'number', 'boolean'].includes(typeof v));
          return (
            <li key={p.message.seq} className="flex items-center gap-2 border-t border-rule py-0.5">
              <span className="w-4 text-ink-2 figures">{i + 1}</span>
              <span className="truncate wire font-semibold">{p.message.name}</span>
              <select
                aria-label={`Condition of step ${i + 1}`}
                value={p.by ?? ''}
                onChange={(e) =>
                  onPicks(
                    picks.map((x) =>
                      x === p ? (e.target.value === '' ? { message: x.message } : { message: x.message, by: e.target.value }) : x,
                    ),
                  )
                }
                className="max-w-64 min-w-0 border border-rule bg-paper text-sm"
              >
                <option value="">with any values</option>
                {values.map(([name, v]) => (
                  <option key={name} value={name}>
                    {name} is {JSON.stringify(v)}
                  </option>
                ))}
              </select>
              <button
                type="button"
                aria-label={`Leave out step ${i + 1}`}
                className="ml-auto p-1 hover:text-accent"
                onClick={() => onPicks(picks.filter((x) => x !== p))}
              >
                <X size={14} />
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
};
