/** What others read: the page for readers, the feed, the picture of a signal, and the tokens with which other pages read these. */
import { useQuery } from '@tanstack/react-query';
import { Copy } from 'lucide-react';
import { useState } from 'react';
import { ask } from '../../client/api';
import type { Id } from '../../core/plan/plan';
import { Age } from '../../ui/Age';
import { Button } from '../../ui/Button';
import { DialogCard, DialogClose } from '../../ui/DialogCard';
import { copy } from '../hand-off/clipboard';
import { authorName } from '../workplace/author';

const LINK = 'text-accent underline decoration-dotted';
const FIELD = 'border border-rule bg-transparent px-2 py-1 placeholder:text-ink-2';
const TOKEN = 'READ_TOKEN';

const Address = ({ title, text, about }: { title: string; text: string; about: string }) => (
  <div className="border-t border-rule py-2">
    <p className="flex items-baseline gap-2">
      <b>{title}</b> <span className="text-sm text-ink-2">{about}</span>
      <Button look="quiet" className="ml-auto text-sm" aria-label={`Copy: ${title}`} onClick={() => void copy(text, title)}>
        <Copy size={13} /> Copy
      </Button>
    </p>
    <p className="wire text-sm break-all">{text}</p>
  </div>
);

const Tokens = ({ made, onMade }: { made: string | undefined; onMade: (token: string) => void }) => {
  const [label, setLabel] = useState('');
  const [error, setError] = useState('');
  const { data, refetch } = useQuery({ queryKey: ['read-tokens'], queryFn: ({ signal }) => ask('GET /api/read-tokens', {}, signal) });
  const act = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      setError('');
      await refetch();
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <section aria-label="Read tokens" className="border-t border-rule py-2">
      <b>Read tokens</b> <span className="text-sm text-ink-2">read the feed and the pictures, and nothing else</span>
      {made ? (
        <p className="mt-1 flex items-center gap-2 bg-wash p-1.5">
          <span className="wire break-all">{made}</span>
          <Button className="ml-auto text-sm" onClick={() => void copy(made, 'The token')}>
            <Copy size={13} /> Copy
          </Button>
          <span className="w-[90px] shrink-0 text-sm">Shown only once.</span>
        </p>
      ) : null}
      <ul>
        {data?.map((t) => (
          <li key={t.id} className="flex items-baseline gap-3 py-0.5 text-sm">
            <span className="min-w-0 truncate font-semibold">{t.label}</span>
            <span className="text-ink-2">
              by {t.author}, <Age at={t.createdAt} />;{' '}
              {t.lastUsedAt === undefined ? (
                'never used'
              ) : (
                <>
                  used <Age at={t.lastUsedAt} />
                </>
              )}
            </span>
            <button
              type="button"
              aria-label={`End ${t.label}`}
              className="ml-auto min-h-[24px] text-stop underline decoration-dotted"
              onClick={() => void act(async () => void (await ask('POST /api/read-tokens', { body: { end: t.id } })))}
            >
              End now
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void act(async () => {
            const answer = await ask('POST /api/read-tokens', { body: { label, author: authorName() } });
            if ('token' in answer) onMade(answer.token);
            setLabel('');
          });
        }}
      >
        <input
          aria-label="Who reads with it"
          placeholder="Who reads with it?"
          value={label}
          onChange={(e) => setLabel(e.target.value)}
          className={`flex-1 ${FIELD}`}
        />
        <Button type="submit" disabled={label.trim() === ''}>
          Create token
        </Button>
      </form>
      {error ? (
        <p role="alert" className="text-stop">
          {error}
        </p>
      ) : null}
    </section>
  );
};

export const Share = ({ questionId, text, onClose }: { questionId: Id | undefined; text: string; onClose: () => void }) => {
  const [made, setMade] = useState<string>();
  const { origin } = location;
  const token = encodeURIComponent(made ?? TOKEN);
  const page = `${origin}/answers${questionId === undefined ? '' : `/${encodeURIComponent(questionId)}`}`;
  return (
    <DialogCard title="Share" open onOpenChange={(open) => (open ? undefined : onClose())} width="w-[640px]">
      <p className="mb-2">
        <a href="/answers" target="_blank" className={LINK}>
          The page for readers
        </a>{' '}
        has every question with its figure, its signal and what it means. It can be printed.
      </p>
      {questionId === undefined ? null : <Address title="Page of this question" about={text} text={page} />}
      <Address title="Feed" about="all answers as JSON" text={`${origin}/api/answers?token=${token}`} />
      {questionId === undefined ? null : (
        <Address
          title="Picture of its signal"
          about="for dashboards and documents"
          text={`<a href="${page}"><img src="${origin}/api/answers/${encodeURIComponent(questionId)}/signal.svg?token=${token}" width="340" height="56" alt="Signal of the question"></a>`}
        />
      )}
      <Tokens made={made} onMade={setMade} />
      <p className="mt-2 text-right">
        <DialogClose>Close</DialogClose>
      </p>
    </DialogCard>
  );
};
