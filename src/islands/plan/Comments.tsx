/** What is said about one thing of the plan, or about a proposal. */
import { Age } from '../../ui/Age';
import { Check } from 'lucide-react';
import { useState } from 'react';
import { toast } from '../../ui/toast';
import type { Kind } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import type { BodyAt } from '../../core/api/index';
import { useDraft } from '../workplace/context';
import { useComments, useSay } from '../workplace/people';

export const Comments = ({ kind, id }: { kind: Kind | 'proposal'; id: string }) => {
  const comments = useComments(kind, id);
  const { proposal } = useDraft();
  const say = useSay();
  const [text, setText] = useState('');
  const send = (body: BodyAt<'POST /api/comments'>) => say(body).catch((e: unknown) => toast.error((e as Error).message));
  return (
    <div>
      {comments.map((c) => (
        <div key={c.id} className={`border-b border-dotted border-rule py-1.5 ${c.resolvedBy ? 'text-ink-2' : ''}`}>
          <p className="flex items-start gap-2 text-sm text-ink-2">
            <span>
              <b className="text-ink">{c.author}</b>, <Age at={c.at} />
              {c.resolvedBy ? `, resolved by ${c.resolvedBy}` : ''}
            </span>
            <button
              type="button"
              aria-label={c.resolvedBy ? 'Reopen' : 'Resolve'}
              title={c.resolvedBy ? 'Reopen' : 'Resolve'}
              className="ml-auto min-h-[24px] min-w-[24px] hover:text-accent"
              onClick={() => void send({ id: c.id, settled: c.resolvedBy === null })}
            >
              <Check size={14} />
            </button>
          </p>
          <p className={`whitespace-pre-wrap ${c.resolvedBy ? 'line-through' : ''}`}>{c.body}</p>
        </div>
      ))}
      <form
        className="mt-1.5 flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim() === '') return;
          void send({ kind, entityId: id, proposalId: proposal?.id ?? null, body: text }).then(() => setText(''));
        }}
      >
        <input
          aria-label="Comment"
          placeholder="Comment"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="min-w-0 flex-1 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
        <Button type="submit" look="quiet" className="!px-1" disabled={text.trim() === ''}>
          Add comment
        </Button>
      </form>
    </div>
  );
};
