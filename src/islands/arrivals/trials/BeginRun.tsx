/** Who is at work, in which environment, by which plan: then a run begins. */
import { useState, useSyncExternalStore } from 'react';
import { ask } from '../../../client/api';
import { environmentsSeen } from '../../../core/arrival/live-filter';
import { identifiersOf } from '../../../core/arrival/me';
import type { Id } from '../../../core/plan/plan';
import { Button } from '../../../ui/Button';
import { Cancel, OpenForm } from '../../../ui/OpenForm';
import { authorName } from '../../workplace/author';
import { useDraft, usePlan, useWorkplace } from '../../workplace/context';

const FIELD = 'border border-rule bg-paper px-1.5 py-0.5';
const OFFERED = 40;

interface Props {
  readonly trialId: Id;
  readonly isPublished: boolean;
  readonly onBegun: (runId: string) => void;
  readonly onClose: () => void;
}

export const BeginRun = ({ trialId, isPublished, onBegun, onClose }: Props) => {
  const plan = usePlan();
  const { server } = useDraft();
  const { live } = useWorkplace();
  const { messages } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const [by, setBy] = useState<'identifier' | 'property' | 'address'>('identifier');
  const [value, setValue] = useState(() => sessionStorage.getItem('this-is-me') ?? '');
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const environments = environmentsSeen(plan, messages);
  const [environment, setEnvironment] = useState(environments[0] ?? 'production');
  const [rules, setRules] = useState<'published' | 'draft'>(isPublished ? 'published' : 'draft');
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const seen = new Map<string, string>();
  for (const m of messages) for (const [kind, v] of Object.entries(identifiersOf(m))) if (!seen.has(v)) seen.set(v, kind);
  const begin = async (): Promise<void> => {
    setBusy(true);
    setError('');
    try {
      const tester = by === 'property' ? { by, name, value } : { by, value: by === 'address' ? address : value };
      const { id } = await ask('POST /api/trial-runs', { body: { trialId, rules, tester, environment, author: authorName() } });
      if (by === 'identifier') sessionStorage.setItem('this-is-me', value.trim());
      onBegun(id);
    } catch (e) {
      setError((e as Error).message);
    }
    setBusy(false);
  };
  return (
    <OpenForm onClose={onClose} aria-label="Run this trial" className="my-3 border border-ink p-3" onSubmit={() => void begin()}>
      <h2 className="mb-1.5 font-bold">Run this trial</h2>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <span>This is me:</span>
        <select
          aria-label="How you are told from others"
          className={FIELD}
          value={by}
          onChange={(e) => setBy(e.target.value === 'property' ? 'property' : e.target.value === 'address' ? 'address' : 'identifier')}
        >
          <option value="identifier">a user, device or anonymous ID</option>
          <option value="property">a property that only I send</option>
          <option value="address">the address that I send from</option>
        </select>
        {by === 'property' ? (
          <input
            aria-label="Name of the property"
            placeholder="property"
            value={name}
            onChange={(e) => setName(e.target.value)}
            className={`${FIELD} w-32 wire`}
          />
        ) : null}
        <input
          list="testers-in-sight"
          aria-label={by === 'identifier' ? 'Your identifier' : by === 'address' ? 'Your address' : 'Its value'}
          placeholder={by === 'identifier' ? 'identifier' : by === 'address' ? 'this computer’s' : 'value'}
          value={by === 'address' ? address : value}
          onChange={(e) => (by === 'address' ? setAddress : setValue)(e.target.value)}
          className={`${FIELD} w-52 wire`}
        />
        <datalist id="testers-in-sight">
          {by === 'identifier'
            ? [...seen].slice(0, OFFERED).map(([v, kind]) => (
                <option key={v} value={v}>
                  {kind}
                </option>
              ))
            : null}
        </datalist>
        <label>
          in{' '}
          <select className={FIELD} value={environment} onChange={(e) => setEnvironment(e.target.value)}>
            {[...new Set([environment, ...environments])].map((e) => (
              <option key={e}>{e}</option>
            ))}
          </select>
        </label>
        <label>
          by{' '}
          <select className={FIELD} value={rules} onChange={(e) => setRules(e.target.value === 'draft' ? 'draft' : 'published')}>
            <option value="published" disabled={!isPublished}>
              {server?.published ? `version ${server.published.number}` : 'the published version'}
              {isPublished ? '' : ' (does not have this trial)'}
            </option>
            <option value="draft">the draft</option>
          </select>
        </label>
        <Button type="submit" look="full" disabled={busy}>
          Begin
        </Button>
        <Cancel />
      </div>
      {rules === 'draft' ? <p className="mt-1.5 text-caution">A pass on the draft says “not published”, and verifies nothing.</p> : null}
      {error ? (
        <p role="alert" className="mt-1.5 text-stop">
          {error}
        </p>
      ) : null}
    </OpenForm>
  );
};
