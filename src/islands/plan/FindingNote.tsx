/** A finding of the plan's own rules: the sentence, why it matters, its mend, and the way to except the entity from the rule. */
import { useState } from 'react';
import { fixOf, lintMend, lintMessage, ruleOf, type ShownFinding } from '../../core/lint/lint';
import { except } from '../../core/plan/fields/rule-settings';
import { Button } from '../../ui/Button';
import { Rich } from '../../ui/Rich';
import { usePlan, useWorkplace } from '../workplace/context';

const TONE = { stop: 'border-stop', caution: 'border-caution-fill', note: 'border-ink-2' } as const;
const WORD = { stop: 'text-stop', caution: 'text-caution', note: 'text-ink-2' } as const;

export const FindingNote = ({ finding, typing, brief = false }: { finding: ShownFinding; typing: boolean; brief?: boolean }) => {
  const { store } = useWorkplace();
  const plan = usePlan();
  const [reason, setReason] = useState<string | undefined>();
  const mend = lintMend(finding);
  const rule = ruleOf(finding.code);
  const [kind, id] = finding.path;
  const waive = () => {
    const edits = reason?.trim() ? except(plan, finding.code, String(kind), String(id), reason.trim()) : undefined;
    if (edits && typeof edits !== 'string') store.apply(edits, `Excepted from “${rule?.title ?? finding.code}”`);
    setReason(undefined);
  };
  return (
    <div className={`mb-2.5 border-l-4 pl-2.5 ${TONE[finding.severity]}`}>
      <p>
        <span className={`text-sm font-semibold ${WORD[finding.severity]}`}>{finding.severity}</span> <Rich text={lintMessage(finding)} />
      </p>
      {brief ? null : <p className="text-sm text-ink-2">{rule?.why}</p>}
      <span className="flex flex-wrap items-center gap-x-2">
        {mend ? (
          <Button
            className="mt-1 max-w-full overflow-hidden !px-2 text-left text-sm whitespace-normal"
            disabled={typing}
            onClick={() => {
              const fix = fixOf(plan, finding);
              if (fix) store.apply(fix, `Mended: ${rule?.title ?? finding.code}`);
            }}
          >
            <span>
              <Rich text={mend} />
            </span>
          </Button>
        ) : null}
        {reason === undefined ? (
          <button
            type="button"
            className="mt-1 min-h-[24px] text-sm text-ink-2 underline decoration-dotted hover:text-accent"
            onClick={() => setReason('')}
          >
            except it
          </button>
        ) : (
          <form
            className="mt-1 flex w-full gap-1"
            onSubmit={(e) => {
              e.preventDefault();
              waive();
            }}
          >
            <input
              autoFocus
              aria-label="Reason for the exception"
              placeholder="why it may stay so"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setReason(undefined)}
              className="min-w-0 flex-1 border border-rule bg-transparent px-1.5 text-sm placeholder:text-ink-2"
            />
            <Button type="submit" look="quiet" className="text-sm" disabled={reason.trim() === ''}>
              Except
            </Button>
          </form>
        )}
      </span>
    </div>
  );
};
