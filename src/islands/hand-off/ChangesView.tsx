/** What engineers have to change to come from one version to another. */
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useMemo, useState } from 'react';
import { ask } from '../../client/api';
import { changesDocument } from '../../core/formats/source-document';
import { markdownOf } from '../../core/formats/blocks';
import { Button } from '../../ui/Button';
import { Empty, Failed, Loading } from '../../ui/States';
import { useDraft, usePlan } from '../workplace/context';
import { SourceChoice } from '../workplace/SourceChoice';
import { copy } from './clipboard';
import { DocumentText } from './DocumentText';
import { SendTicket } from './SendTicket';

const FIELD = 'border border-rule bg-paper px-1.5 py-1';

export const ChangesView = () => {
  const plan = usePlan();
  const { server } = useDraft();
  const newest = server?.published?.number ?? 0;
  const [from, setFrom] = useState(newest);
  const [to, setTo] = useState(0);
  const [source, setSource] = useState('');
  const version = (n: number) => ({
    queryKey: ['version', n],
    queryFn: ({ signal }: { signal: AbortSignal }) => ask('GET /api/version', { query: { number: n } }, signal),
    enabled: n > 0,
    staleTime: Infinity,
  });
  const [a, b] = [useQuery(version(from)), useQuery(version(to))];
  const before = a.data;
  const after = useMemo(() => (to === 0 ? { plan, number: 0 } : b.data), [to, plan, b.data]);
  const document = useMemo(
    () => (before && after ? changesDocument(before, after, source === '' ? undefined : source) : undefined),
    [before, after, source],
  );
  if (newest === 0)
    return (
      <Empty title="Nothing is published yet.">
        Once there is a version, this says what engineers have to change to come from one to another.
      </Empty>
    );
  const numbers = Array.from({ length: newest }, (_, i) => newest - i);
  const query = new URLSearchParams({
    from: String(from),
    version: to === 0 ? 'draft' : String(to),
    ...(source === '' ? {} : { source }),
  }).toString();
  const error = a.error ?? b.error;
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule py-1.5 pr-10 pl-7">
        <label>
          From{' '}
          <select className={FIELD} value={from} onChange={(e) => setFrom(Number(e.target.value))}>
            {numbers.map((n) => (
              <option key={n} value={n}>
                version {n}
              </option>
            ))}
          </select>
        </label>
        <label>
          to{' '}
          <select className={FIELD} value={to} onChange={(e) => setTo(Number(e.target.value))}>
            <option value={0}>the draft</option>
            {numbers.map((n) => (
              <option key={n} value={n}>
                version {n}
              </option>
            ))}
          </select>
        </label>
        <SourceChoice label="At which source" className="px-1.5 py-1" value={source} onChoose={setSource} />
        <span className="ml-auto flex gap-1">
          {source === '' || (to !== newest && to !== 0) ? null : <SendTicket key={source} sourceId={source} from={from} />}
          <a
            className="flex items-center gap-1 px-2 font-semibold text-accent hover:bg-wash"
            href={`/api/hand-off-document?${query}&format=html`}
            download
          >
            <Download size={14} /> HTML
          </a>
          <Button look="full" disabled={!document} onClick={() => document && void copy(markdownOf(document.blocks), 'The ticket')}>
            Copy ticket
          </Button>
        </span>
      </div>
      <div className="px-7 py-5">
        {error ? (
          <Failed what="The version" error={error} retry={() => void a.refetch()} />
        ) : document ? (
          <DocumentText blocks={document.blocks} />
        ) : (
          <Loading what="the changes" />
        )}
      </div>
    </>
  );
};
