/** The sources of an event as a table: which send it, whether each must, since which release, and how far each has built it. */
import { useCommit } from '../../ui/use-commit';
import { buildStateOf } from '../../core/arrival/seen';
import { setField } from '../../core/plan/edit';
import { BUILD_STATES, entries, settingsOf, type EventSource, type Id, type Plan } from '../../core/plan/plan';
import { useWorkplace } from '../workplace/context';
import { useSeen } from './use-seen';
import { dayText, plural } from '../../ui/format';

const NAME_CELL = 'py-1 pr-3';
const FIELD = 'min-h-[26px] border border-rule bg-transparent px-1.5 focus:border-accent disabled:opacity-50';

/** What arrives sets these; by hand they are only kept. */
const ARRIVABLE = ['proposed', 'agreed', 'built'] as const satisfies readonly EventSource['build'][];
const ARRIVED = ['seen', 'verified'] as const satisfies readonly EventSource['build'][];

export const EventSources = ({ plan, id }: { plan: Plan; id: Id }) => {
  const { store } = useWorkplace();
  const seen = useSeen();
  const { timeZone } = settingsOf(plan);
  const event = plan.event[id]!;
  const sources = entries(plan, 'source');
  const change = (next: readonly EventSource[]) => {
    const edit = setField(plan, 'event', id, 'sources', [...next]);
    if (edit) store.apply([edit], 'Sources changed');
  };
  const set = (sourceId: Id, part: Partial<EventSource>) =>
    change(event.sources.map((s) => (s.sourceId === sourceId ? { ...s, ...part } : s)));
  if (sources.length === 0) return null;
  return (
    <>
      <h3 className="mt-6 mb-1 text-[1.05rem] font-bold">Sources</h3>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="pb-1 font-medium">sends it</th>
            <th className="pb-1 font-medium">must</th>
            <th className="pb-1 font-medium">since release</th>
            <th className="pb-1 font-medium">build state</th>
          </tr>
        </thead>
        <tbody>
          {sources.map(([sourceId, source]) => {
            const own = event.sources.find((s) => s.sourceId === sourceId);
            const arrived = own && seen.of(id, sourceId);
            return (
              <tr key={sourceId} className="border-t border-rule">
                <td className={NAME_CELL}>
                  <label className="inline-flex min-h-[26px] items-center gap-2">
                    <input
                      type="checkbox"
                      checked={own !== undefined}
                      onChange={(e) =>
                        change(
                          e.target.checked
                            ? [...event.sources, { sourceId, required: true, build: 'proposed' }]
                            : event.sources.filter((s) => s.sourceId !== sourceId),
                        )
                      }
                    />
                    {source.name} <span className="text-sm text-ink-2">{source.kind === 'server' ? 'server' : 'client'}</span>
                  </label>
                </td>
                <td className={NAME_CELL}>
                  <input
                    type="checkbox"
                    aria-label={`${source.name} must send it`}
                    className="size-6 scale-75"
                    disabled={!own}
                    checked={own?.required ?? false}
                    onChange={(e) => set(sourceId, { required: e.target.checked })}
                  />
                </td>
                <td className={NAME_CELL}>
                  <Since
                    label={`${source.name}, since release`}
                    since={own?.since}
                    disabled={!own}
                    keep={(since) => {
                      const rest = event.sources.map((s) => {
                        if (s.sourceId !== sourceId) return s;
                        const { since: _, ...others } = s;
                        return since === '' ? others : { ...others, since };
                      });
                      change(rest);
                    }}
                  />
                </td>
                <td className={NAME_CELL}>
                  {arrived ? (
                    <span className="mr-2 text-sm whitespace-nowrap text-clear" title={`${plural(arrived.messages, 'message')} came`}>
                      seen since {dayText(arrived.at, timeZone)}
                      {arrived.release === '' ? (
                        ''
                      ) : (
                        <>
                          , <span className="wire">{arrived.release}</span>
                        </>
                      )}
                    </span>
                  ) : null}
                  <select
                    aria-label={`${source.name}, build state`}
                    className={FIELD}
                    disabled={!own}
                    value={own ? buildStateOf(own, arrived) : ''}
                    onChange={(e) => set(sourceId, { build: e.target.value as EventSource['build'] })}
                  >
                    {own ? null : <option value="">–</option>}
                    {BUILD_STATES.map((b) => (
                      <option
                        key={b}
                        value={b}
                        disabled={(ARRIVED.some((a) => a === b) && own?.build !== b) || (arrived && ARRIVABLE.some((a) => a === b))}
                      >
                        {b}
                        {ARRIVED.some((a) => a === b) ? ', by what arrives' : ''}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
};

const Since = (p: { label: string; since: string | undefined; disabled: boolean; keep: (text: string) => void }) => {
  const { problem, field } = useCommit(p.since ?? '', (text) => {
    p.keep(text.trim());
    return undefined;
  });
  return <input aria-label={p.label} className={`${FIELD} w-32 wire`} disabled={p.disabled} title={problem} {...field} />;
};
