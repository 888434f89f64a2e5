/** The write keys of a source: made, limited, replaced without a gap, ended. */
import { useQuery } from '@tanstack/react-query';
import { Copy } from 'lucide-react';
import { useState } from 'react';
import { later } from '../../ui/later';
import { toast } from '../../ui/toast';
import type { WriteKey } from '../../core/api/keys';
import type { Id, Source } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { ageText, count } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { ask } from '../../client/api';
import { useWorkplace } from '../workplace/context';
import { copy } from './clipboard';

/** How long a key that is replaced still works, so that a source can change over without a gap. */
const OVERLAP_HOURS = 24;

const NewKeyForm = later(() => import('./NewKeyForm').then((m) => m.NewKeyForm), <p className="mt-2 text-ink-2">Loading the form …</p>);

const when = (k: WriteKey): string => {
  const now = Date.now();
  const used = k.lastUsedAt === undefined ? 'never used' : `used ${ageText(k.lastUsedAt, now)}`;
  const ends = k.expiresAt === undefined ? '' : `, ends in ${ageText(now, k.expiresAt).replace(' ago', '')}`;
  const limit = k.perMinute === undefined ? '' : `, ${count(k.perMinute)} a minute`;
  return used + ends + limit;
};

export const WriteKeys = ({ sourceId, source }: { sourceId: Id; source: Source }) => {
  const [made, setMade] = useState<string | undefined>();
  const [asking, setAsking] = useState(false);
  const { store } = useWorkplace();
  const { data, refetch } = useQuery({
    queryKey: ['keys', sourceId],
    queryFn: ({ signal }) => ask('GET /api/keys', { query: { source: sourceId } }, signal),
  });
  const act = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      // The first steps know how many keys there are.
      void store.load();
      await refetch();
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const make = async (label: string, max: number | undefined): Promise<void> => {
    const answer = await ask('POST /api/keys', { body: { sourceId, label, perMinute: max } });
    if ('key' in answer) setMade(answer.key);
  };
  const shown = (data ?? []).filter((k) => k.label !== 'stand-in');
  return (
    <MarginPart title={`Write keys of ${source.name}`}>
      {made ? (
        <>
          <p className="bg-wash p-1.5 wire break-all">{made}</p>
          <p className="my-1 text-sm text-ink-2">Shown only once; only its fingerprint is stored.</p>
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
                title={`Create a new key; this one works for ${OVERLAP_HOURS} hours more`}
                onClick={() =>
                  void act(async () => {
                    await make('replaces an older one', k.perMinute);
                    await ask('POST /api/keys', { body: { end: k.id, hours: OVERLAP_HOURS } });
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
                    await ask('POST /api/keys', { body: { end: k.id, hours: 0 } });
                    toast('The key has ended; every process stops accepting it within five seconds.');
                  })
                }
              >
                End now
              </button>
            </span>
          </li>
        ))}
      </ul>
      {asking ? (
        <NewKeyForm
          onCreate={(label, perMinute) => act(() => make(label, perMinute)).then(() => setAsking(false))}
          onCancel={() => setAsking(false)}
        />
      ) : (
        <Button className="mt-2 text-sm" onClick={() => setAsking(true)}>
          New key …
        </Button>
      )}
    </MarginPart>
  );
};
