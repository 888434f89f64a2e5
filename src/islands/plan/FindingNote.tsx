/** A finding of the plan's own rules: the sentence, why it matters, its fix, and the way to except the entity from the rule. */
import { useState } from 'react';
import type { ShownFinding } from '../../core/lint/lint';
import { except } from '../../core/plan/fields/exceptions';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { Rich } from '../../ui/Rich';
import { usePlan, useWorkplace } from '../workplace/context';

const TONE = { stop: 'border-stop', caution: 'border-caution-fill', note: 'border-ink-2' } as const;
const WORD = { stop: 'text-stop', caution: 'text-caution', note: 'text-ink-2' } as const;

export const FindingNote = ({ finding, typing, brief = false }: { finding: ShownFinding; typing: boolean; brief?: boolean }) => {
  const { store } = useWorkplace();
  const plan = usePlan();
  const [reason, setReason] = useState<string | undefined>();
  const { title, why, text, fix } = finding.words;
  const [kind, id] = finding.path;
  const waive = () => {
    const edits = reason?.trim() ? except(plan, finding.code, String(kind), String(id), reason.trim()) : undefined;
    if (edits && typeof edits !== 'string') store.apply(edits, `Excepted from “${title}”`);
    setReason(undefined);
  };
  return (
    <div className={`mb-2.5 border-l-4 pl-2.5 ${TONE[finding.severity]}`}>
      <p>
        <span className={`text-sm font-semibold ${WORD[finding.severity]}`}>{finding.severity}</span> <Rich text={text} />
      </p>
      {brief ? null : (
        <p className="text-sm text-ink-2">
          {why}{' '}
          <a href={`/reference#${finding.code}`} target="_blank" rel="noreferrer" className="text-accent underline decoration-dotted">
            Example
          </a>
        </p>
      )}
      <span className="flex flex-wrap items-center gap-x-2">
        {fix ? (
          <Button
            className="mt-1 max-w-full overflow-hidden !px-2 text-left text-sm whitespace-normal"
            disabled={typing}
            onClick={() =>
              // The rules are large: they come to work a fix out, and not to be read.
              void import('../../core/lint/lint').then(({ fixOf }) => {
                const edits = fixOf(plan, finding);
                if (edits) store.apply(edits, `Fixed: ${title}`);
              })
            }
          >
            <span>
              <Rich text={fix} />
            </span>
          </Button>
        ) : null}
        {reason === undefined ? (
          <button
            type="button"
            className="mt-1 min-h-[24px] text-sm text-ink-2 underline decoration-dotted hover:text-accent"
            onClick={() => setReason('')}
          >
            Add exception
          </button>
        ) : (
          <OpenForm onClose={() => setReason(undefined)} className="mt-1 flex w-full gap-1" onSubmit={waive}>
            <input
              autoFocus
              aria-label="Reason for the exception"
              placeholder="why it is acceptable"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              className="min-w-0 flex-1 border border-rule bg-transparent px-1.5 text-sm placeholder:text-ink-2"
            />
            <Button type="submit" look="quiet" className="text-sm" disabled={reason.trim() === ''}>
              Except
            </Button>
            <Cancel />
          </OpenForm>
        )}
      </span>
    </div>
  );
};
