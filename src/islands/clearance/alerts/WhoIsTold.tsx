/** Who is told when a question's signal or sign-off falls, and a way to tell somebody else. */
import { useState } from 'react';
import { ask } from '../../../client/api';
import { FIRST_RULE } from '../../../core/alerts/default-rule';
import { tellsOfFall, type AlertRule } from '../../../core/alerts/rule';
import { concernsOfQuestion } from '../../../core/alerts/watched';
import type { Id, Question } from '../../../core/plan/plan';
import { DialogCard } from '../../../ui/DialogCard';
import { authorName } from '../../workplace/author';
import { usePlan, useWorkplace } from '../../workplace/context';
import { places } from '../../workplace/place';
import { useAlertRules } from '../../workplace/queries';
import { RuleForm } from './RuleForm';
import { wireRule } from './wire';

const LINK = 'min-h-[24px] text-left text-accent underline decoration-dotted';

export const WhoIsTold = ({ id, question }: { id: Id; question: Question }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { data, refetch } = useAlertRules();
  const [open, setOpen] = useState(false);
  if (!data) return <p className="text-ink-2">Loading …</p>;
  const concerns = concernsOfQuestion(plan, id, question);
  const told = data.rules.filter((r) => tellsOfFall(r, concerns));
  const fresh: AlertRule = {
    ...FIRST_RULE,
    name: question.text.slice(0, 80),
    kinds: ['signal fell', 'signal rose', 'sign-off fell'],
    questions: [id],
    by: 'mail',
  };
  return (
    <>
      {told.map((r) => (
        <button
          key={r.id}
          type="button"
          className="block w-full border-b border-dotted border-rule py-1 text-left hover:text-accent"
          onClick={() => go(...places.alerts())}
        >
          {r.name}
          <span className="block text-sm break-all text-ink-2">{r.by === 'inbox' ? 'inbox' : `${r.by} to ${r.to}`}</span>
        </button>
      ))}
      {told.length === 0 ? <p className="text-ink-2">Nobody.</p> : null}
      <button type="button" className={LINK} onClick={() => setOpen(true)}>
        Tell somebody …
      </button>
      {open ? (
        <DialogCard title="Tell somebody when it changes" open onOpenChange={setOpen} width="w-[860px]">
          <RuleForm
            rule={fresh}
            noMail={data.noMail}
            receiver={data.receiver}
            mailbox={data.mailbox}
            onSave={async (rule) => {
              await ask('POST /api/alert-rules', { body: { add: wireRule(rule), author: authorName() } });
              setOpen(false);
              await refetch();
            }}
            onCancel={() => setOpen(false)}
          />
        </DialogCard>
      ) : null}
    </>
  );
};
