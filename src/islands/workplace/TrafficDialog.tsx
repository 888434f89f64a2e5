/** The traffic of all views: the environment, marked messages, consent. */
import { useQuery } from '@tanstack/react-query';
import { entries } from '../../core/plan/plan';
import { CONSENTS, type Consent } from '../../core/table/message-kinds';
import { COUNTED, MARK_CHOICES, PRODUCTION, type Traffic } from '../../core/table/traffic';
import { count } from '../../ui/format';
import { DialogCard, DialogClose } from '../../ui/DialogCard';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from './context';
import { useIsCounted } from './traffic';

const MARK_TEXT: Record<Traffic['marks'], string> = {
  unmarked: 'without internal, test and robot traffic',
  'marked too': 'marked traffic too',
  'marked only': 'marked traffic only',
};

const SELECT = 'w-full border border-rule bg-paper px-1 py-1';

const Choices = () => {
  const plan = usePlan();
  const { place, lookThrough } = useWorkplace();
  const { traffic } = place.lens;
  const { data, error } = useQuery({ queryKey: ['traffic'], queryFn: ({ signal }) => ask('GET /api/traffic', {}, signal) });
  const environments = [
    ...new Set([
      PRODUCTION,
      ...entries(plan, 'source').map(([, s]) => s.environment),
      ...(data ?? []).map((t) => t.environment),
      ...(traffic.environment === '' ? [] : [traffic.environment]),
    ]),
  ];
  const set = (next: Partial<Traffic>) => lookThrough({ ...place.lens, traffic: { ...traffic, ...next } });
  return (
    <>
      <div className="grid grid-cols-[110px_1fr] items-center gap-x-4 gap-y-2">
        <label htmlFor="traffic-environment">Environment</label>
        <select
          id="traffic-environment"
          className={SELECT}
          value={traffic.environment}
          onChange={(e) => set({ environment: e.target.value })}
        >
          {environments.map((e) => (
            <option key={e}>{e}</option>
          ))}
          <option value="">every environment</option>
        </select>
        <label htmlFor="traffic-marks">Marks</label>
        <select
          id="traffic-marks"
          className={SELECT}
          value={traffic.marks}
          onChange={(e) => set({ marks: e.target.value as Traffic['marks'] })}
        >
          {MARK_CHOICES.map((m) => (
            <option key={m} value={m}>
              {MARK_TEXT[m]}
            </option>
          ))}
        </select>
        <label htmlFor="traffic-consent">Consent</label>
        <select
          id="traffic-consent"
          className={SELECT}
          value={traffic.consent}
          onChange={(e) => set({ consent: e.target.value as Consent | '' })}
        >
          <option value="">any, or none stated</option>
          {CONSENTS.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      </div>
      <table className="mt-4 w-full">
        <caption className="text-left text-sm font-semibold text-ink-2">Received so far</caption>
        <thead>
          <tr className="text-right text-sm text-ink-2">
            <th className="text-left font-medium">environment</th>
            <th className="font-medium">unmarked</th>
            <th className="font-medium">marked</th>
          </tr>
        </thead>
        <tbody>
          {data?.map((t) => (
            <tr key={t.environment} className="border-t border-rule text-right figures">
              <th className="py-0.5 text-left wire font-medium">{t.environment}</th>
              <td>{count(t.unmarked)}</td>
              <td>{count(t.marked)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {data?.length === 0 ? <p className="text-ink-2">No messages yet.</p> : null}
      {error ? <p className="text-stop">{error.message}</p> : null}
    </>
  );
};

export const TrafficDialog = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => {
  const { place, lookThrough } = useWorkplace();
  const isCounted = useIsCounted();
  return (
    <DialogCard title="Traffic" width="w-[520px]" open={open} onOpenChange={onOpenChange}>
      <p className="mb-4 text-ink-2">
        Applies to all figures, findings and views. A message without an environment has that of its source; one without marks counts as
        unmarked.
      </p>
      <Choices />
      <div className="mt-4 flex gap-6">
        <DialogClose>Done</DialogClose>
        {isCounted ? null : (
          <button
            type="button"
            className="font-semibold text-accent underline"
            onClick={() => lookThrough({ ...place.lens, traffic: COUNTED })}
          >
            Back to production
          </button>
        )}
      </div>
    </DialogCard>
  );
};
