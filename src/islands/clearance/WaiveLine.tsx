/** Answering for a gate: who did so until when and why, and the form for it. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../../client/api';
import type { Gate } from '../../core/clearance/gate';
import { canBeWaived } from '../../core/clearance/waiver';
import { settingsOf, type Id } from '../../core/plan/plan';
import { Age } from '../../ui/Age';
import { Button } from '../../ui/Button';
import { dayText } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { useNow } from '../../ui/use-now';
import { authorName } from '../workplace/author';
import { usePlan } from '../workplace/context';
import { useSignOffs } from '../workplace/queries';
import { WordForm } from './WordForm';

export const WaiveLine = ({ questionId, gate }: { questionId: Id; gate: Gate }) => {
  const { timeZone } = settingsOf(usePlan());
  const queries = useQueryClient();
  const now = useNow();
  const [form, setForm] = useState(false);
  const [error, setError] = useState('');
  const { data } = useSignOffs(questionId);
  const before = data?.waivers.filter((w) => w.gate === gate.gate && (w.endedAt !== null || w.until <= now)) ?? [];
  const refresh = async (): Promise<void> => {
    setForm(false);
    await queries.invalidateQueries({ queryKey: ['clearance'] });
  };
  const takeBack = (): void =>
    void ask('POST /api/waivers', { body: { questionId, gate: gate.gate, withdraw: 'No longer needed.', author: authorName() } }).then(
      refresh,
      (e: unknown) => setError((e as Error).message),
    );
  return (
    <div className="mt-2 text-sm">
      {gate.waived ? (
        <p className="flex items-baseline gap-3">
          <span>
            <b>Waived</b> by {gate.waived.author}, <Age at={gate.waived.at} />, until {dayText(gate.waived.until - 1, timeZone)}:{' '}
            {gate.waived.reason}
          </span>
          <Button look="quiet" className="text-sm" onClick={takeBack}>
            End it now
          </Button>
        </p>
      ) : canBeWaived(gate) && !form ? (
        <Button look="quiet" className="-ml-3 text-sm" onClick={() => setForm(true)}>
          Waive this gate …
        </Button>
      ) : null}
      {form ? (
        <WordForm
          label={`Why ${gate.gate} is waived`}
          placeholder="Why need it not hold the question up?"
          action={`Waive ${gate.gate}`}
          needsDay
          onClose={() => setForm(false)}
          onSend={async (reason, until) => {
            if (until === null) throw new Error('Choose the last day on which it is waived.');
            await ask('POST /api/waivers', { body: { questionId, gate: gate.gate, reason, until, author: authorName() } });
            await refresh();
          }}
        />
      ) : null}
      {error ? (
        <p role="alert" className="text-stop">
          {error}
        </p>
      ) : null}
      {before.map((w) => (
        <p key={w.id} className="text-ink-2">
          Waived by {w.author}, <Age at={w.at} />: {w.reason} <Rich text={w.because ?? 'Its end date came.'} />
        </p>
      ))}
    </div>
  );
};
