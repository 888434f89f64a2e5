/** The limits profile: how much of each limit is used, and the head room that is left. */
import { limitsOf, WARN_FROM } from '../../core/plan/limits';
import { setField } from '../../core/plan/edit';
import { entries, settingsOf, SETTINGS_ID, type Plan } from '../../core/plan/plan';
import { count, dayText } from '../../ui/format';
import { TextField } from '../../ui/TextField';
import { places } from '../workplace/place';
import { useWorkplace } from '../workplace/context';

const NOTE = {
  events: 'Distinct names of events that are not retired.',
  userProperties: 'Counted once registered, including retired ones: they cannot be renamed or released.',
  conversions: 'Events marked as conversions.',
} as const;

export const Limits = ({ plan }: { plan: Plan }) => {
  const { store, go } = useWorkplace();
  const settings = settingsOf(plan);
  const set = (key: keyof typeof settings.limits, text: string) => {
    const n = Number(text);
    if (!Number.isInteger(n) || n < 1) return;
    const edit = setField(plan, 'settings', SETTINGS_ID, 'limits', { ...settings.limits, [key]: n });
    if (edit) store.apply([edit], 'Limit changed');
  };
  const registered = entries(plan, 'userProperty').filter(([, u]) => u.registered);
  return (
    <div className="max-w-[820px] px-7 py-5">
      <h2 className="text-lg font-bold">Limits</h2>
      <p className="mt-1 mb-4 text-ink-2">Quotas of the destination of your data. Edit a number to change a limit.</p>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="pb-1 font-medium">what</th>
            <th className="w-[36%] pb-1 font-medium">used</th>
            <th className="w-20 pb-1 text-right font-medium">used</th>
            <th className="w-24 pb-1 text-right font-medium">limit</th>
            <th className="w-20 pb-1 text-right font-medium">left</th>
          </tr>
        </thead>
        <tbody>
          {limitsOf(plan).map((l) => {
            const share = l.used / l.limit;
            const tone = share > 1 ? 'bg-stop' : share >= WARN_FROM ? 'bg-caution-fill' : 'bg-accent';
            return (
              <tr key={l.key} className="border-t border-rule align-top">
                <td className="py-2 pr-4">
                  <span className="font-medium">{l.what}</span>
                  <span className="block text-sm text-ink-2">{NOTE[l.key]}</span>
                </td>
                <td className="py-3 pr-4">
                  <span className="relative block h-3 border border-rule">
                    <span className={`block h-full ${tone}`} style={{ width: `${Math.min(100, share * 100)}%` }} />
                    <span
                      className="absolute top-[-3px] h-[18px] border-l border-ink-2"
                      style={{ left: `${WARN_FROM * 100}%` }}
                      title="Warning level"
                    />
                  </span>
                </td>
                <td className="py-2 text-right font-semibold figures">{count(l.used)}</td>
                <td className="py-1.5 text-right figures">
                  <TextField label={`Limit of ${l.what}`} value={String(l.limit)} className="text-right" onSave={(v) => set(l.key, v)} />
                </td>
                <td className={`py-2 text-right figures ${share > 1 ? 'text-stop' : ''}`}>{count(l.limit - l.used)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <h3 className="mt-6 mb-1 font-bold">Registered user properties</h3>
      {registered.length === 0 ? <p className="text-ink-2">None yet.</p> : null}
      {registered.map(([id, u]) => (
        <p key={id} className="flex gap-4 border-t border-rule py-1">
          <button
            type="button"
            className="min-h-[24px] wire underline decoration-dotted hover:text-accent"
            onClick={() => go(...places.row('userProperty', id))}
          >
            {u.name}
          </button>
          <span className="ml-auto text-sm text-ink-2">
            {u.retired ? 'retired, still counts' : u.registeredAt ? `since ${dayText(u.registeredAt, settings.timeZone)}` : 'name locked'}
          </span>
        </p>
      ))}
    </div>
  );
};
