/** The rules: what is told, to whom, by what. */
import { useMemo, useState } from 'react';
import { ask } from '../../../client/api';
import { KIND_TEXT } from '../../../core/alerts/kinds';
import type { KeptRule } from '../../../core/alerts/kept-rule';
import type { AlertRule } from '../../../core/alerts/rule';
import { FIRST_RULE } from '../../../core/alerts/default-rule';
import type { Plan } from '../../../core/plan/plan';
import { Button } from '../../../ui/Button';
import { DataTable, type DataColumn } from '../../../ui/DataTable';
import { Failed, Loading } from '../../../ui/States';
import { toast } from '../../../ui/toast';
import { copy } from '../../hand-off/clipboard';
import { authorName } from '../../workplace/author';
import { usePlan } from '../../workplace/context';
import { useAlertRules } from '../../workplace/queries';
import { RuleForm } from './RuleForm';
import { wireRule } from './wire';

const listText = (list: readonly string[]): string =>
  list.length > 2 ? `${list.slice(0, 2).join(', ')} and ${list.length - 2} more` : list.join(', ');

const aboutText = (plan: Plan, r: AlertRule): string =>
  [
    r.questions.length > 0 ? `questions: ${listText(r.questions.map((id) => plan.question[id]?.text ?? id))}` : '',
    r.events.length > 0 ? `events: ${listText(r.events)}` : '',
    r.sources.length > 0 ? `sources: ${listText(r.sources.map((id) => plan.source[id]?.name ?? id))}` : '',
    r.owners.length > 0 ? `owners: ${listText(r.owners)}` : '',
  ]
    .filter(Boolean)
    .join('; ') || 'all of the workspace';

const kindsText = (r: AlertRule): string => listText(r.kinds.map((k) => KIND_TEXT[k]));

export const RulesTable = ({ onSent }: { onSent: () => void }) => {
  const plan = usePlan();
  const [open, setOpen] = useState<KeptRule | 'new'>();
  const [secret, setSecret] = useState<{ readonly name: string; readonly text: string }>();
  const { data, error, refetch } = useAlertRules();
  const columns = useMemo((): readonly DataColumn<KeptRule>[] => {
    const act = (work: () => Promise<unknown>): void =>
      void work().then(
        () => refetch(),
        (e: unknown) => toast.error((e as Error).message),
      );
    return [
      {
        id: 'name',
        head: 'rule',
        names: true,
        value: (r) => r.name,
        cell: (r) => (
          <button type="button" className="block min-h-[24px] text-left font-semibold hover:text-accent" onClick={() => setOpen(r)}>
            {r.name}
            {r.active ? '' : <span className="font-normal text-ink-2"> (off)</span>}
          </button>
        ),
      },
      {
        id: 'when',
        head: 'when',
        cell: (r) => (
          <>
            {kindsText(r)}
            <span className="block text-sm text-ink-2">
              {aboutText(plan, r)}, from {r.severity} on
            </span>
          </>
        ),
      },
      {
        id: 'to',
        head: 'to',
        value: (r) => r.by,
        cell: (r) => (
          <>
            {r.by === 'inbox' ? 'inbox' : `inbox and ${r.by}`}
            {r.by === 'inbox' ? null : (
              <span className="block text-sm break-all text-ink-2">
                {r.to}, {r.pace}
              </span>
            )}
          </>
        ),
      },
      {
        id: 'do',
        head: <span className="sr-only">actions</span>,
        className: 'w-[210px] text-right',
        cell: (r) => (
          <span className="flex justify-end">
            {r.by === 'inbox' ? null : (
              <Button
                look="quiet"
                className="text-sm"
                aria-label={`Test ${r.name}`}
                onClick={() => act(() => ask('POST /api/alert-rules', { body: { test: r.id } }).then(onSent))}
              >
                Test
              </Button>
            )}
            {r.by === 'webhook' ? (
              <Button
                look="quiet"
                className="text-sm"
                aria-label={`Secret of ${r.name}`}
                onClick={() =>
                  act(async () => {
                    const answer = await ask('POST /api/alert-rules', { body: { secretOf: r.id } });
                    if ('secret' in answer) setSecret({ name: r.name, text: answer.secret });
                  })
                }
              >
                Secret
              </Button>
            ) : null}
            <Button
              look="quiet"
              className="text-sm"
              aria-label={`Remove ${r.name}`}
              onClick={() => act(() => ask('POST /api/alert-rules', { body: { remove: r.id } }))}
            >
              Remove
            </Button>
          </span>
        ),
      },
    ];
  }, [plan, refetch, onSent]);
  if (error && !data) return <Failed what="The rules" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the rules" />;
  const save = async (rule: AlertRule): Promise<void> => {
    const author = authorName();
    await ask('POST /api/alert-rules', {
      body: open === 'new' || !open ? { add: wireRule(rule), author } : { change: wireRule(rule), id: open.id, rev: open.rev, author },
    });
    setOpen(undefined);
    await refetch();
  };
  return (
    <>
      {open ? (
        <RuleForm
          key={open === 'new' ? 'new' : open.id}
          rule={open === 'new' ? { ...FIRST_RULE, name: '' } : open}
          noMail={data.noMail}
          receiver={data.receiver}
          mailbox={data.mailbox}
          onSave={save}
          onCancel={() => setOpen(undefined)}
        />
      ) : (
        <p className="flex items-center gap-3 py-2">
          <span className="text-sm text-ink-2">Whatever a rule is about is in the inbox; it can also be sent.</span>
          <Button className="ml-auto text-sm" onClick={() => setOpen('new')}>
            New rule …
          </Button>
        </p>
      )}
      {secret ? (
        <p className="my-2 flex items-center gap-2 bg-wash p-2 text-sm">
          <span>
            Secret of {secret.name}, with which its receiver checks the signature: <span className="wire break-all">{secret.text}</span>
          </span>
          <Button look="quiet" className="ml-auto text-sm" onClick={() => void copy(secret.text, 'The secret')}>
            Copy
          </Button>
          <Button look="quiet" className="text-sm" onClick={() => setSecret(undefined)}>
            Hide
          </Button>
        </p>
      ) : null}
      <DataTable label="Rules of alerts" rows={data.rules} columns={columns} keyOf={(r) => String(r.id)} className="w-full" />
      {data.rules.length === 0 ? <p className="py-3 text-ink-2">No rule: nothing is told to anybody.</p> : null}
    </>
  );
};
