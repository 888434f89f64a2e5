/** A button that tries something over the recorded messages, with its progress and what it found. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { settingsOf, type Plan } from '../../core/plan/plan';
import { dayOf } from '../../core/questions/calendar';
import { DAY_MS } from '../../core/time';
import { Button } from '../../ui/Button';
import { DateField } from '../../ui/DateField';
import { ProgressBar } from '../../ui/ProgressBar';
import { useNow } from '../../ui/use-now';
import { DryRunResult } from './DryRunResult';
import { useDryRun, type Tried } from './use-dry-run';

const OVER = [
  { id: 'all', title: 'all history' },
  { id: '7', title: 'the last 7 days' },
  { id: '28', title: 'the last 28 days' },
  { id: 'own', title: 'days of your own' },
] as const;
type Over = (typeof OVER)[number]['id'];

export const TryIt = ({ plan, tried, text = 'Try it', keeps = false }: { plan: Plan; tried: Tried; text?: string; keeps?: boolean }) => {
  const { result, progress, error, run, cancel } = useDryRun();
  const queries = useQueryClient();
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const now = useNow();
  const today = dayOf(now, timeZone);
  const daysAgo = (days: number): string => dayOf(now - days * DAY_MS, timeZone);
  const [over, setOver] = useState<Over>('all');
  const [own, setOwn] = useState({ from: daysAgo(6), through: today });
  const [keep, setKeep] = useState(false);
  const stretch = over === 'all' ? {} : over === 'own' ? own : { from: daysAgo(Number(over) - 1), through: today };
  const lacks = over === 'own' && (own.from === '' || own.through === '');
  const begin = async (): Promise<void> => {
    const found = await run({ ...tried, ...stretch, keep: keeps && keep });
    if (found && keep) await queries.invalidateQueries({ queryKey: ['proposals'] });
  };
  return (
    <div>
      <div className="flex flex-wrap items-center gap-3">
        {progress ? (
          <>
            <Button onClick={cancel}>Cancel</Button>
            <ProgressBar label="Progress of the dry run" done={progress.done} total={progress.total} className="w-64" />
          </>
        ) : (
          <Button disabled={lacks} onClick={() => void begin()}>
            {text}
          </Button>
        )}
        <label className="flex items-center gap-1.5">
          over
          <select
            aria-label="Over which days"
            value={over}
            disabled={progress !== undefined}
            onChange={(e) => setOver(e.target.value as Over)}
            className="min-h-[26px] border border-rule bg-transparent px-1"
          >
            {OVER.map((o) => (
              <option key={o.id} value={o.id}>
                {o.title}
              </option>
            ))}
          </select>
        </label>
        {over === 'own' ? (
          <span className="flex items-center gap-1.5">
            {(['from', 'through'] as const).map((key) => (
              <span key={key} className="flex items-center gap-1.5">
                {key}
                <DateField
                  label={key === 'from' ? 'First day' : 'Last day'}
                  value={own[key]}
                  timeZone={timeZone}
                  weekStartsOn={weekStartsOn}
                  max={today}
                  onChange={(day) => setOwn({ ...own, [key]: day })}
                />
              </span>
            ))}
          </span>
        ) : null}
        {keeps ? (
          <label className="flex min-h-[26px] items-center gap-1.5">
            <input type="checkbox" className="accent-accent" checked={keep} onChange={(e) => setKeep(e.target.checked)} />
            Keep it with the proposal
          </label>
        ) : null}
        <span className="text-sm text-ink-2">{keeps && keep ? 'Nothing is published.' : 'Nothing is published or stored.'}</span>
      </div>
      {error ? (
        <p role="alert" className="mt-2 border-l-4 border-stop bg-ground px-3 py-1">
          {error}
        </p>
      ) : null}
      {result ? (
        <div className="mt-3">
          <DryRunResult run={result} plan={plan} />
        </div>
      ) : null}
    </div>
  );
};
