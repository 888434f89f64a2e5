/** A stale edit: both values, and the choice between them. */
import { AlertDialog } from 'radix-ui';
import { labelOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { KIND_WORD } from '../../core/plan/kind-words';
import { useDraft, useWorkplace } from './context';

const shown = (v: unknown): string =>
  v === undefined || v === null || v === '' ? '(empty)' : typeof v === 'string' ? v : JSON.stringify(v, null, 1);

export const ConflictDialog = () => {
  const { conflict, plan } = useDraft();
  const { store } = useWorkplace();
  if (!conflict || !plan) return null;
  const { problem } = conflict;
  const body = plan[problem.kind][problem.id];
  const name = body ? labelOf(problem.kind, body) : '';
  const gone = problem.code === 'missing';
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="bg-black/40 fixed inset-0 z-40" />
        <AlertDialog.Content className="fixed top-24 left-1/2 z-50 w-[620px] max-w-[92vw] -translate-x-1/2 border border-ink bg-paper p-6 shadow-[6px_6px_0_var(--rule)]">
          <AlertDialog.Title className="text-lg font-bold">
            {gone
              ? 'Somebody removed this in the meantime'
              : `Somebody else changed ${problem.field ? `“${problem.field}” of ` : ''}the ${KIND_WORD[problem.kind]} in the meantime`}
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-1 text-ink-2">
            <span className="wire">{name}</span>{' '}
            {gone ? 'Your change no longer applies.' : 'Nothing was overwritten. Choose which value to keep.'}
          </AlertDialog.Description>
          {gone ? null : (
            <div className="mt-4 grid grid-cols-2 gap-4">
              {(
                [
                  ['Yours', problem.mine],
                  ['Current value', problem.theirs],
                ] as const
              ).map(([title, value]) => (
                <div key={title}>
                  <p className="text-sm font-semibold text-ink-2">{title}</p>
                  <pre
                    tabIndex={0}
                    aria-label={title}
                    className="mt-1 max-h-48 overflow-auto border border-rule bg-ground p-2 wire whitespace-pre-wrap"
                  >
                    {shown(value)}
                  </pre>
                </div>
              ))}
            </div>
          )}
          <div className="mt-5 flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button onClick={() => store.settle('theirs')}>{gone ? 'Cancel' : 'Keep the current value'}</Button>
            </AlertDialog.Cancel>
            {problem.code === 'stale' && problem.field ? (
              <AlertDialog.Action asChild>
                <Button look="full" onClick={() => store.settle('mine')}>
                  Use my value
                </Button>
              </AlertDialog.Action>
            ) : null}
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
};
