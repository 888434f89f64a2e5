/** Publishing: what changes against the newest version, and the note that goes with it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { useRef, useState } from 'react';
import type { DryRun } from '../../core/scenario/dry-run';
import { toast } from '../../ui/toast';
import { failing, tryCases } from '../../core/identity/own-cases';
import { SETTINGS_ID } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { ask } from '../../client/api';
import { authorName } from '../workplace/author';
import { useDraft, useWorkplace } from '../workplace/context';
import { ProgressBar } from '../../ui/ProgressBar';
import { worse } from '../../core/scenario/worse';
import { later } from '../../ui/later';
import { KIND_WORD } from '../../core/plan/kind-words';
import { useDryRun } from './use-dry-run';

const DryRunResult = later(() => import('./DryRunResult').then((m) => m.DryRunResult));

const ChangeList = () => {
  const { data, error } = useQuery({ queryKey: ['changes'], queryFn: ({ signal }) => ask('GET /api/changes', {}, signal), gcTime: 0 });
  if (error) return <p className="text-stop">{error.message}</p>;
  if (!data) return <p className="text-ink-2">Comparing …</p>;
  if (data.length === 0) return <p className="text-ink-2">No changes since the newest version.</p>;
  return (
    <ul tabIndex={0} aria-label="Changes" className="max-h-40 overflow-y-auto border-y border-rule">
      {data.map((c) => (
        <li key={`${c.kind} ${c.id}`} className="flex gap-3 border-b border-rule py-1 last:border-b-0">
          <span
            className={`w-20 shrink-0 font-semibold ${c.what === 'added' ? 'text-clear' : c.what === 'removed' ? 'text-stop' : 'text-caution'}`}
          >
            {c.what}
          </span>
          <span className="w-28 shrink-0 text-ink-2">{KIND_WORD[c.kind]}</span>
          <span className="min-w-0 flex-1 truncate wire">{c.label}</span>
          <span className="text-sm text-ink-2">{c.fields.map((f) => f.field).join(', ')}</span>
        </li>
      ))}
    </ul>
  );
};

export const Publish = () => {
  const { server, saving } = useDraft();
  const { store } = useWorkplace();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState('');
  const [error, setError] = useState<string | undefined>();
  const next = (server?.published?.number ?? 0) + 1;
  const { plan } = useDraft();
  const settings = plan?.settings[SETTINGS_ID];
  const cases = open && settings ? tryCases(settings.identityCases, settings.identity) : [];
  const broken = failing(cases);
  const [despite, setDespite] = useState(false);
  const { result, progress, error: notTried, run, cancel, forget } = useDryRun();
  const lost = result ? worse(result.questions) : [];
  const [reason, setReason] = useState('');
  const lacksReason = lost.length > 0 && reason.trim() === '';
  const trial = useRef<Promise<DryRun | undefined>>(Promise.resolve(undefined));
  const tryIt = (): void => void (trial.current = run());
  const [waiting, setWaiting] = useState(false);
  const publish = async () => {
    // Whoever is quicker than the trial publishes as soon as it is over, unless it asks something of them.
    setWaiting(true);
    const found = await trial.current;
    setWaiting(false);
    if (found && worse(found.questions).length > 0 && reason.trim() === '') return;
    try {
      const because =
        lost.length > 0 ? ` Although ${lost.map((q) => `“${q.text}”`).join(', ')} may be relied on less: ${reason.trim()}` : '';
      await ask('POST /api/publish', {
        body: { note: `${note}${because}`.slice(0, 2000), despiteCases: broken.length > 0 && despite, author: authorName() },
      });
      setOpen(false);
      setNote('');
      toast(`Version ${next} is published; recorded messages are being checked against it.`);
      await store.load();
      await queries.invalidateQueries();
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(o) => {
        setOpen(o);
        setError(undefined);
        setDespite(false);
        setReason('');
        if (o && server?.published) tryIt();
        else forget();
        void store.load();
      }}
    >
      <Dialog.Trigger asChild>
        <Button look="full" className="!px-2 text-sm">
          Publish version {next} …
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="bg-black/30 fixed inset-0 z-40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-10 left-1/2 z-50 max-h-[92vh] w-[760px] max-w-[94vw] -translate-x-1/2 overflow-y-auto border border-ink bg-paper p-6 shadow-[6px_6px_0_var(--rule)]"
        >
          <Dialog.Title className="text-lg font-bold">Publish version {next}</Dialog.Title>
          <p className="mt-1 mb-3 text-ink-2">A published version never changes. From now on, messages are checked against it.</p>
          <ChangeList />
          {cases.length > 0 ? (
            <div className={`mt-3 border-l-4 pl-3 ${broken.length === 0 ? 'border-clear' : 'border-stop'}`}>
              <p>
                Bench cases: {cases.length - broken.length} of {cases.length} pass.
              </p>
              {broken.map((c) => (
                <p key={c.id} className="text-stop">
                  {c.title}: {plural(c.found, 'person')}, not {c.expected}
                </p>
              ))}
              {broken.length > 0 ? (
                <label className="mt-1 flex min-h-[26px] items-center gap-2">
                  <input type="checkbox" className="accent-accent" checked={despite} onChange={(e) => setDespite(e.target.checked)} />
                  Publish anyway
                </label>
              ) : null}
            </div>
          ) : null}
          {server?.published ? (
            <div
              className="mt-3 max-h-[34vh] overflow-y-auto border-l-4 border-rule pl-3"
              aria-label="What it would do"
              role="region"
              tabIndex={0}
            >
              {progress ? (
                <p className="flex items-center gap-3 text-sm text-ink-2">
                  Trying it over the recorded messages …
                  <ProgressBar label="Progress of the dry run" done={progress.done} total={progress.total} className="w-40" />
                  <Button look="quiet" className="text-sm" onClick={cancel}>
                    Skip
                  </Button>
                </p>
              ) : result && plan ? (
                <DryRunResult run={result} plan={plan} />
              ) : (
                <p className="text-sm text-ink-2">
                  {notTried || 'Not tried.'}{' '}
                  <Button look="quiet" className="text-sm" onClick={tryIt}>
                    Try it
                  </Button>
                </p>
              )}
            </div>
          ) : null}
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void publish();
            }}
          >
            <label className="mt-4 block font-semibold" htmlFor="publish-note">
              What changed, and why
            </label>
            <input
              id="publish-note"
              autoFocus
              autoComplete="off"
              value={note}
              onChange={(e) => setNote(e.target.value)}
              aria-invalid={error !== undefined}
              className="mt-1 w-full border border-ink bg-paper px-2 py-1.5"
            />
            {lost.length > 0 ? (
              <>
                <label className="mt-3 block font-semibold text-stop" htmlFor="publish-reason">
                  {lost.length === 1 ? `“${lost[0]!.text}” may be relied on less` : `${lost.length} questions may be relied on less`}: why
                  publish anyway?
                </label>
                <input
                  id="publish-reason"
                  autoComplete="off"
                  value={reason}
                  onChange={(e) => setReason(e.target.value)}
                  className="mt-1 w-full border border-stop bg-paper px-2 py-1.5"
                />
              </>
            ) : null}
            {error ? (
              <p role="alert" className="mt-1 text-stop">
                {error}
              </p>
            ) : null}
            <div className="mt-4 flex items-center justify-end gap-2">
              {saving === 'saved' ? null : <span className="mr-auto text-caution">{plural(1, 'change')} still being saved …</span>}
              {waiting && progress ? (
                <span role="status" className="mr-auto text-ink-2">
                  Publishes as soon as it is tried …
                </span>
              ) : null}
              <Dialog.Close asChild>
                <Button>Cancel</Button>
              </Dialog.Close>
              <Button
                type="submit"
                look="full"
                disabled={saving !== 'saved' || note.trim() === '' || waiting || lacksReason || (broken.length > 0 && !despite)}
              >
                Publish
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
