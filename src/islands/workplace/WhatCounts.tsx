/** Which messages count in all views: the environment, marked traffic, consent. */
import { useQuery } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { entries } from '../../core/plan/plan';
import { CONSENTS, type Consent } from '../../core/table/message-table';
import { COUNTED, MARK_CHOICES, PRODUCTION, trafficText, type Traffic, type TrafficSeen } from '../../core/table/traffic';
import { count } from '../../ui/format';
import { get } from './api';
import { usePlan, useWorkplace } from './context';

/** Whether what counts is what counts unless somebody chooses otherwise. */
export const useIsCounted = (): boolean => trafficText(useWorkplace().place.lens.traffic) === '';

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
  const { data, error } = useQuery({ queryKey: ['traffic'], queryFn: ({ signal }) => get<TrafficSeen[]>('/api/traffic', signal) });
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
        <label htmlFor="counts-environment">Environment</label>
        <select
          id="counts-environment"
          className={SELECT}
          value={traffic.environment}
          onChange={(e) => set({ environment: e.target.value })}
        >
          {environments.map((e) => (
            <option key={e}>{e}</option>
          ))}
          <option value="">every environment</option>
        </select>
        <label htmlFor="counts-marks">Marks</label>
        <select
          id="counts-marks"
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
        <label htmlFor="counts-consent">Consent</label>
        <select
          id="counts-consent"
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
        <caption className="text-left text-sm font-semibold text-ink-2">What has come</caption>
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
      {data?.length === 0 ? <p className="text-ink-2">No message has come yet.</p> : null}
      {error ? <p className="text-stop">{error.message}</p> : null}
    </>
  );
};

export const WhatCounts = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => {
  const { place, lookThrough } = useWorkplace();
  const isCounted = useIsCounted();
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="bg-black/30 fixed inset-0 z-40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 border border-ink bg-paper p-6 shadow-[6px_6px_0_var(--rule)]"
        >
          <Dialog.Title className="mb-1 text-lg font-bold">What counts</Dialog.Title>
          <p className="mb-4 text-ink-2">
            In all figures, findings and views. A message that says no environment is of its source’s; one that says no mark is unmarked.
          </p>
          <Choices />
          <div className="mt-4 flex gap-6">
            <Dialog.Close className="font-semibold text-accent underline">Done</Dialog.Close>
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
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
