/** The write keys of a source: made, limited, replaced without a gap, ended. */
import { useQuery } from '@tanstack/react-query';
import { Copy } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Id, Source } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { ageText, count } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { get, post } from '../workplace/api';
import { copy } from './clipboard';

interface Key {
  readonly id: number;
  readonly label: string;
  readonly createdAt: number;
  readonly expiresAt?: number;
  readonly lastUsedAt?: number;
  readonly perMinute?: number;
}

/** How long a key that is replaced still works, so that a source can change over without a gap. */
const OVERLAP_HOURS = 24;

const when = (k: Key): string => {
  const now = Date.now();
  const used = k.lastUsedAt === undefined ? 'never used' : `used ${ageText(k.lastUsedAt, now)}`;
  const ends = k.expiresAt === undefined ? '' : `, ends in ${ageText(now, k.expiresAt).replace(' ago', '')}`;
  const limit = k.perMinute === undefined ? '' : `, ${count(k.perMinute)} a minute`;
  return used + ends + limit;
};

export const WriteKeys = ({ sourceId, source }: { sourceId: Id; source: Source }) => {
  const [made, setMade] = useState<string | undefined>();
  const [limit, setLimit] = useState('');
  const { data, refetch } = useQuery({
    queryKey: ['keys', sourceId],
    queryFn: ({ signal }) => get<Key[]>(`/api/keys?source=${encodeURIComponent(sourceId)}`, signal),
  });
  const act = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      await refetch();
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const perMinute = /^[1-9]\d{0,6}$/.test(limit.trim()) ? Number(limit) : undefined;
  const make = async (label: string, most: number | undefined): Promise<void> => {
    setMade((await post<{ key: string }>('/api/keys', { sourceId, label, ...(most === undefined ? {} : { perMinute: most }) })).key);
  };
  const shown = (data ?? []).filter((k) => k.label !== 'stand-in');
  return (
    <MarginPart title={`Write keys of ${source.name}`}>
      {made ? (
        <>
          <p className="bg-wash p-1.5 wire break-all">{made}</p>
          <p className="my-1 text-sm text-ink-2">It is shown this once; only its fingerprint is stored.</p>
          <Button className="mb-2 text-sm" onClick={() => void copy(made, 'The key')}>
            <Copy size={14} /> Copy
          </Button>
        </>
      ) : null}
      <ul>
        {shown.map((k) => (
          <li key={k.id} className="border-t border-rule py-1">
            <span className="block truncate">{k.label}</span>
            <span className="block text-sm text-ink-2">{when(k)}</span>
            <span className="flex gap-3 text-sm">
              <button
                type="button"
                className="min-h-[24px] text-accent underline decoration-dotted"
                title={`A new key; this one works for ${OVERLAP_HOURS} hours more`}
                onClick={() =>
                  void act(async () => {
                    await make('replaces an older one', k.perMinute);
                    await post('/api/keys', { end: k.id, hours: OVERLAP_HOURS });
                    toast(`The old key works for ${OVERLAP_HOURS} hours more.`);
                  })
                }
              >
                Replace
              </button>
              <button
                type="button"
                className="min-h-[24px] text-stop underline decoration-dotted"
                onClick={() =>
                  void act(async () => {
                    await post('/api/keys', { end: k.id, hours: 0 });
                    toast('The key has ended; within five seconds no process takes it any more.');
                  })
                }
              >
                End now
              </button>
            </span>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex items-center gap-2">
        <Button
          className="text-sm whitespace-nowrap"
          disabled={limit.trim() !== '' && perMinute === undefined}
          onClick={() => void act(() => make('made at the hand-off', perMinute))}
        >
          Make a key
        </Button>
        <input
          inputMode="numeric"
          aria-label="Most messages a minute with the new key"
          placeholder="no limit"
          value={limit}
          onChange={(e) => setLimit(e.target.value)}
          className="w-20 border border-rule bg-transparent px-1 text-sm placeholder:text-ink-2"
        />
        <span className="text-sm text-ink-2">a minute</span>
      </div>
    </MarginPart>
  );
};
