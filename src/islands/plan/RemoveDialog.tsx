/** Removing what others refer to: shows who does, and offers to retire it instead. */
import { useQuery } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { ask } from '../../client/api';
import { questionsTouched, touchedBeyond } from '../../core/alerts/touched';
import { setField } from '../../core/plan/edit';
import { labelOf, type Id, type Kind, type Plan } from '../../core/plan/plan';
import { canRetire, referencesTo, removalOf } from '../../core/plan/references';
import { Button } from '../../ui/Button';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { KIND_WORD } from '../../core/plan/kind-words';

/** Sign-offs and alerts that hang on it, which the server knows. */
const useBeyond = (plan: Plan, kind: Kind, id: Id) =>
  useQuery({
    queryKey: ['touched', kind, id],
    queryFn: async ({ signal }) => {
      const questions = questionsTouched(plan, kind, id);
      const [{ rules }, ...signed] = await Promise.all([
        ask('GET /api/alert-rules', {}, signal),
        ...questions.map((question) => ask('GET /api/sign-offs', { query: { question } }, signal)),
      ]);
      return touchedBeyond(plan, kind, id, rules, new Map(questions.map((q, i) => [q, signed[i]!.signOffs])));
    },
    retry: false,
    staleTime: 0,
  });

export const RemoveDialog = ({ kind, id, onClose }: { kind: Kind; id: Id; onClose: () => void }) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const name = labelOf(kind, plan[kind][id]);
  const references = referencesTo(plan, kind, id);
  const beyond = useBeyond(plan, kind, id);
  const retire = () => {
    const edit = canRetire(kind) ? setField(plan, kind, id, 'retired', true) : undefined;
    if (edit) store.apply([edit], `Retired ${name}`);
    onClose();
  };
  return (
    <AlertDialog.Root open onOpenChange={(open) => !open && onClose()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="bg-black/40 fixed inset-0 z-40" />
        <AlertDialog.Content className="fixed top-24 left-1/2 z-50 w-[600px] max-w-[92vw] -translate-x-1/2 border border-ink bg-paper p-6 shadow-[6px_6px_0_var(--rule)]">
          <AlertDialog.Title className="text-lg font-bold">
            Others refer to <span className="wire">{name}</span>
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-1 text-ink-2">
            Remove deletes it from all of them; questions that use it can no longer be answered.
            {canRetire(kind) ? ' Retire keeps it in the history; nobody is asked to send it.' : ''}
          </AlertDialog.Description>
          <ul tabIndex={0} aria-label="What hangs on it" className="mt-3 max-h-64 overflow-y-auto border-y border-rule">
            {references.map((r) => (
              <li key={`${r.kind} ${r.id} ${r.how}`} className="flex gap-3 border-b border-rule py-1 last:border-b-0">
                <span className="w-28 shrink-0 text-ink-2">{KIND_WORD[r.kind]}</span>
                <span className={`min-w-0 flex-1 truncate ${r.kind === 'question' ? '' : 'wire'}`}>{r.label}</span>
                <span className="text-sm text-ink-2">{r.how}</span>
              </li>
            ))}
            {beyond.data?.map((t) => (
              <li key={`${t.what} ${t.label}`} className="flex gap-3 border-b border-rule py-1 last:border-b-0">
                <span className="w-28 shrink-0 text-ink-2">{t.what}</span>
                <span className="min-w-0 flex-1 truncate" title={t.label}>
                  {t.label}
                </span>
                <span className="text-sm text-ink-2">{t.how}</span>
              </li>
            ))}
          </ul>
          {beyond.data ? null : (
            <p role="status" className="mt-1 text-sm text-ink-2">
              {beyond.error ? 'Sign-offs and alerts could not be looked at just now.' : 'Looking at sign-offs and alerts …'}
            </p>
          )}
          <div className="mt-5 flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Cancel</Button>
            </AlertDialog.Cancel>
            <Button
              onClick={() => {
                store.apply(removalOf(plan, kind, id), `Removed ${name}`);
                onClose();
                go(...places.plan(kind));
              }}
            >
              Remove anyway
            </Button>
            {canRetire(kind) ? (
              <Button look="full" onClick={retire}>
                Retire
              </Button>
            ) : null}
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
};
