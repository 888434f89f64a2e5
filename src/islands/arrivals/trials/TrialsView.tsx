/** Trials: the scripts of the plan, drafted from it, and their runs. */
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { blank } from '../../../core/plan/defaults';
import { setField } from '../../../core/plan/edit';
import { entries, isLive, settingsOf } from '../../../core/plan/plan';
import { draftTrial } from '../../../core/trial/draft-trial';
import { eventsOfTrial } from '../../../core/trial/script';
import { isAbandoned, testerText } from '../../../core/trial/trial-run';
import { Button } from '../../../ui/Button';
import { dayText, instantText, plural, timeText } from '../../../ui/format';
import { Empty } from '../../../ui/States';
import { TextField } from '../../../ui/TextField';
import { useNow } from '../../../ui/use-now';
import { useDraft, usePlan, useWorkplace } from '../../workplace/context';
import { places } from '../../workplace/place';
import { useView } from '../use-view';
import { BeginRun } from './BeginRun';
import { TrialCoverage } from './TrialCoverage';
import { TrialEditor } from './TrialEditor';
import { TrialRun } from './TrialRun';

const newId = (): string => crypto.randomUUID().slice(0, 8);
const SELECT = 'border border-rule bg-paper px-1.5 py-0.5 w-full';

const NewTrial = () => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const live = entries(plan, 'event').filter(([, e]) => isLive(e) && e.name !== '');
  const flows = [...new Set(live.map(([, e]) => e.flow).filter(Boolean))];
  const make = (value: string): void => {
    const [kind, id] = [value.slice(0, value.indexOf(' ')), value.slice(value.indexOf(' ') + 1)];
    const trial =
      kind === 'flow'
        ? draftTrial(plan, { flow: id }, newId)
        : kind === 'event'
          ? draftTrial(plan, { eventId: id }, newId)
          : blank('trial', { name: 'New trial' });
    const trialId = newId();
    store.apply([{ op: 'create', kind: 'trial', id: trialId, body: trial }], 'New trial');
    go(...places.trial(trialId));
  };
  return (
    <select aria-label="Draft a trial" className={SELECT} value="" onChange={(e) => make(e.target.value)}>
      <option value="">New trial for …</option>
      {flows.map((f) => (
        <option key={f} value={`flow ${f}`}>
          flow {f}
        </option>
      ))}
      {live.map(([id, e]) => (
        <option key={id} value={`event ${id}`}>
          {e.name}
        </option>
      ))}
      <option value="none ">an empty one</option>
    </select>
  );
};

const Runs = ({ trialId }: { trialId: string }) => {
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(usePlan());
  const { data } = useView('GET /api/trial-runs', { trial: trialId });
  const now = useNow();
  if (!data || data.length === 0) return <p className="text-ink-2">It was not run yet.</p>;
  return (
    <ul>
      {data.slice(0, 20).map((r) => (
        <li key={r.id} className="border-t border-rule">
          <button
            type="button"
            className="flex min-h-[28px] w-full flex-wrap items-center gap-x-3 text-left hover:text-accent"
            onClick={() => go(...places.trialRun(trialId, r.id))}
          >
            <span title={instantText(r.startedAt)}>
              {dayText(r.startedAt, timeZone)} {timeText(r.startedAt, timeZone).slice(0, 5)}
            </span>
            <b className={r.state === 'passed' ? 'text-clear' : r.state === 'failed' ? 'text-stop' : 'text-ink-2'}>
              {isAbandoned(r, now) ? 'abandoned' : r.state}
            </b>
            <span className="wire">{testerText(r.tester)}</span>
            <span className="text-ink-2">
              {r.environment}, {r.rules === 'draft' ? 'draft' : `version ${r.planVersion}`}, {r.author}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
};

export const TrialsView = ({ trialId, runId }: { trialId: string; runId: string }) => {
  const plan = usePlan();
  const { server } = useDraft();
  const { store, go } = useWorkplace();
  const [begins, setBegins] = useState(false);
  const covers = trialId === 'coverage' && !plan.trial['coverage'];
  const all = entries(plan, 'trial').filter(([, t]) => !t.retired);
  const [id, trial] = all.find(([x]) => x === trialId) ?? all[0] ?? [undefined, undefined];
  if (runId !== '' && trialId !== '') return <TrialRun key={runId} runId={runId} onClose={() => go(...places.trial(trialId))} />;
  const set = (field: 'name' | 'about', value: string): void => {
    const edit = id === undefined ? undefined : setField(plan, 'trial', id, field, value);
    if (edit) store.apply([edit], 'Trial');
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col lg:flex-row">
      <section aria-label="Trials" className="shrink-0 border-b border-rule lg:w-[220px] lg:overflow-y-auto lg:border-r lg:border-b-0">
        <div className="border-b border-rule p-2">
          <NewTrial />
        </div>
        <button
          type="button"
          aria-current={covers}
          onClick={() => go(...places.trial('coverage'))}
          className={`block w-full border-b border-l-4 border-b-rule px-3 py-1.5 text-left ${covers ? 'border-l-accent bg-paper font-semibold' : 'border-l-transparent hover:bg-paper'}`}
        >
          Coverage of trials
        </button>
        {all.map(([x, t]) => (
          <button
            key={x}
            type="button"
            aria-current={x === id && !covers}
            onClick={() => go(...places.trial(x))}
            className={`block w-full border-b border-l-4 border-b-rule px-3 py-1.5 text-left ${x === id && !covers ? 'border-l-accent bg-paper font-semibold' : 'border-l-transparent hover:bg-paper'}`}
          >
            {t.name || 'Without a name'}
            <span className="block text-sm font-normal text-ink-2">
              {plural(t.steps.length, 'step')}, {plural(eventsOfTrial(t).length, 'event')}
            </span>
          </button>
        ))}
      </section>
      <div className="min-h-0 min-w-0 flex-1 overflow-y-auto">
        {covers ? (
          <TrialCoverage />
        ) : id === undefined || !trial ? (
          <Empty title="No trials yet.">
            A trial says what a tester does, step by step, and what must come of it. Draft one for a flow or an event of the plan: the
            negative steps come with it.
          </Empty>
        ) : (
          <div className="px-6 py-4">
            <TextField
              label="Name of the trial"
              value={trial.name}
              className="text-[1.4rem] leading-tight font-bold"
              onSave={(v) => set('name', v)}
            />
            <TextField
              label="What the trial is about"
              value={trial.about}
              placeholder="What it is about"
              className="text-ink-2"
              onSave={(v) => set('about', v)}
            />
            <div className="mt-2 flex flex-wrap gap-2">
              <Button look="full" aria-expanded={begins} onClick={() => setBegins(!begins)}>
                Run …
              </Button>
              <Button
                onClick={() => {
                  const copyId = newId();
                  store.apply(
                    [{ op: 'create', kind: 'trial', id: copyId, body: { ...trial, name: `${trial.name} (copy)` } }],
                    'Duplicate trial',
                  );
                  go(...places.trial(copyId));
                }}
              >
                <Plus size={14} /> Duplicate
              </Button>
              <Button look="quiet" onClick={() => store.apply([{ op: 'remove', kind: 'trial', id, body: trial }], 'Remove trial')}>
                Remove
              </Button>
            </div>
            {begins ? (
              <BeginRun
                key={id}
                trialId={id}
                isPublished={server?.published !== null && server?.published !== undefined}
                onClose={() => setBegins(false)}
                onBegun={(r) => go(...places.trialRun(id, r))}
              />
            ) : null}
            <h2 className="mt-4 font-bold">Steps</h2>
            <TrialEditor id={id} trial={trial} />
            <h2 className="mt-5 font-bold">Runs</h2>
            <Runs trialId={id} />
          </div>
        )}
      </div>
    </div>
  );
};
