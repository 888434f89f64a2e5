/** Versions and changes of the plan, newest first. */
import { useQuery } from '@tanstack/react-query';
import { ageText } from '../../ui/format';
import { get } from '../workplace/api';
import { useDraft } from '../workplace/context';
import type { Published } from '../workplace/draft-store';

interface History {
  readonly versions: readonly Published[];
  readonly changes: readonly { readonly seq: number; readonly at: number; readonly author: string; readonly label: string }[];
}

export const HistoryView = () => {
  const { server } = useDraft();
  const { data } = useQuery({
    queryKey: ['history', server?.lastChange, server?.published?.number],
    queryFn: ({ signal }) => get<History>('/api/history', signal),
  });
  return (
    <div className="grid grid-cols-2 gap-8 p-6">
      <section>
        <h2 className="mb-2 text-lg font-bold">Versions</h2>
        {data?.versions.map((v) => (
          <div key={v.number} className="border-t border-rule py-2">
            <p>
              <b>Version {v.number}</b>{' '}
              <span className="text-ink-2">
                {v.author}, {ageText(v.at, Date.now())}
              </span>
            </p>
            <p>{v.note}</p>
            <p className="wire text-ink-2">{v.contentHash.slice(0, 16)}</p>
          </div>
        ))}
        {data?.versions.length === 0 ? <p className="text-ink-2">Nothing is published yet.</p> : null}
      </section>
      <section>
        <h2 className="mb-2 text-lg font-bold">Changes</h2>
        {data?.changes.map((c) => (
          <p key={c.seq} className="border-t border-rule py-1.5">
            {c.label || 'Change'}{' '}
            <span className="text-ink-2">
              {c.author}, {ageText(c.at, Date.now())}
            </span>
          </p>
        ))}
      </section>
    </div>
  );
};
