/** Situations × sources: what the rules expect, derived, with what arrives beside it. */
import { SITUATIONS } from '../../core/identity/situation';
import { count, percent } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { useView } from '../arrivals/use-view';
import { usePlan } from '../workplace/context';

const share = (n: number | undefined): string => (n === undefined ? '–' : percent(n, 0));

export const SituationsView = () => {
  const plan = usePlan();
  const { data, error, refetch } = useView('GET /api/situations');
  if (error && !data) return <Failed what="The table" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the table" />;
  if (data.length === 0) return <Empty title="No source yet.">Add sources at the Plan station.</Empty>;
  return (
    <div className="px-7 py-5">
      <h1 className="pr-8 text-[1.5rem] leading-tight font-bold">What each source sends in each situation</h1>
      <p className="mb-3 text-ink-2">
        Derived from each source’s identifier kinds and the rules, next to the share of messages each kind arrives on.
      </p>
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Situations by source">
        <table className="w-full border-collapse text-[0.92rem]">
          <thead>
            <tr className="text-left align-bottom text-ink-2">
              <th className="pr-3 pb-1 font-medium">source</th>
              {SITUATIONS.map((s) => (
                <th key={s} className="min-w-[96px] pr-3 pb-1 font-medium">
                  {s}
                </th>
              ))}
              <th className="pb-1 font-medium">arrives without, with a user ID</th>
            </tr>
          </thead>
          <tbody>
            {data.map((r) => {
              const source = plan.source[r.sourceId];
              return (
                <tr key={r.sourceId} className="border-t border-rule align-top">
                  <th scope="row" className="py-2 pr-3 text-left font-semibold">
                    {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
                    <span className="block text-sm font-normal text-ink-2">{source?.name}</span>
                  </th>
                  {SITUATIONS.map((s) => {
                    const c = r.cells.find((x) => x.situation === s);
                    return (
                      <td key={s} className="py-2 pr-3">
                        {c ? (
                          <>
                            <span className="block wire font-medium">{c.expected.join(', ') || 'none'}</span>
                            <span className="block text-sm leading-snug text-ink-2">{c.leadsTo}</span>
                          </>
                        ) : (
                          <span className="text-ink-2">–</span>
                        )}
                      </td>
                    );
                  })}
                  <td className="py-2">
                    {r.messages.with + r.messages.without === 0 ? (
                      <span className="text-ink-2">nothing arrived</span>
                    ) : (
                      r.arrives.map((a) => (
                        <span key={a.kind} className="flex gap-2 whitespace-nowrap">
                          <span className="wire">{a.kind}</span>
                          <span className="ml-auto figures">
                            {share(a.without)}, {share(a.with)}
                          </span>
                        </span>
                      ))
                    )}
                    <span className="block text-sm text-ink-2 figures">
                      of {count(r.messages.without)}, {count(r.messages.with)}
                    </span>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {data.some((r) => r.lacks.length > 0) ? (
        <section className="mt-4 border-t border-ink pt-2">
          <h2 className="font-bold">Expected but often missing</h2>
          <ul>
            {data.flatMap((r) =>
              r.lacks.map((l) => (
                <li key={`${r.sourceId} ${l}`} className="mt-1 border-l-4 border-caution-fill pl-2">
                  {plan.source[r.sourceId]?.name}: <Rich text={l} />.
                </li>
              )),
            )}
          </ul>
        </section>
      ) : null}
    </div>
  );
};
