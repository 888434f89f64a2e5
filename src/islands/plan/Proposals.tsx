/** Proposals: begun on a version, worked on apart from the draft, reviewed, and accepted or declined. */
import { Age } from '../../ui/Age';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from '../../ui/toast';
import { conflictKey, mergeProposal, type Choice, type MergeConflict } from '../../core/plan/merge';
import { labelOf, type Plan } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { authorName } from '../workplace/author';
import { useDraft, useWorkplace } from '../workplace/context';
import { Comments } from './Comments';
import { JudgedChanges } from './JudgedChanges';
import { KeptRuns } from './KeptRuns';
import { TryIt } from './TryIt';
import { places } from '../workplace/place';
import { KIND_WORD } from '../../core/plan/kind-words';

const STATUS_TONE = { open: 'text-caution', accepted: 'text-clear', declined: 'text-ink-2' } as const;
const FIELD = 'w-full border border-rule bg-transparent px-2 py-1 placeholder:text-ink-2';

export const ProposalList = () => {
  const { store, go } = useWorkplace();
  const { proposal: working } = useDraft();
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const { data, error, refetch } = useQuery({
    queryKey: ['proposals'],
    queryFn: ({ signal }) => ask('GET /api/proposals', {}, signal),
  });
  const begin = async () => {
    const { id } = await ask('POST /api/proposals', { body: { name, author: authorName() } });
    await queries.invalidateQueries({ queryKey: ['proposals'] });
    await store.switchTo({ id, name });
    setName('');
    toast('What you edit now goes into the proposal, not into the draft.');
    go(...places.plan('event'));
  };
  if (error) return <Failed what="The proposals" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the proposals" />;
  return (
    <div className="max-w-[860px] px-7 py-5">
      <h2 className="text-lg font-bold">Proposals</h2>
      <p className="mt-1 mb-3 text-ink-2">
        A named set of edits on the newest version. The draft does not change until the proposal is accepted.
      </p>
      <form
        className="mb-4 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void begin().catch((x: unknown) => toast.error((x as Error).message));
        }}
      >
        <input
          aria-label="Name of the new proposal"
          placeholder="What is proposed?"
          value={name}
          onChange={(e) => setName(e.target.value)}
          className={FIELD}
        />
        <Button type="submit" look="full" disabled={name.trim() === '' || working !== undefined}>
          Start a proposal
        </Button>
      </form>
      {data.map((p) => (
        <div key={p.id} className="flex items-baseline gap-3 border-t border-rule py-2">
          <span className={`w-20 shrink-0 text-sm font-semibold ${STATUS_TONE[p.status]}`}>{p.status}</span>
          <button
            type="button"
            className="min-h-[24px] min-w-0 flex-1 text-left font-medium hover:text-accent"
            onClick={() => go(...places.proposal(p.id))}
          >
            {p.name}
            <span className="block text-sm font-normal text-ink-2">
              {p.author}, <Age at={p.at} />, on {p.baseVersion === 0 ? 'an empty plan' : `version ${p.baseVersion}`},{' '}
              {plural(p.changes, 'change')}
              {p.decidedBy ? `; ${p.status} by ${p.decidedBy}` : ''}
            </span>
          </button>
          {p.status === 'open' ? (
            <Button
              look="quiet"
              className="text-sm"
              onClick={() => void store.switchTo(working?.id === p.id ? undefined : p).then(() => go(...places.plan('event')))}
            >
              {working?.id === p.id ? 'Back to the draft' : 'Edit proposal'}
            </Button>
          ) : null}
        </div>
      ))}
      {data.length === 0 ? <p className="border-t border-rule py-3 text-ink-2">No proposal yet.</p> : null}
    </div>
  );
};

const shown = (v: unknown): string => (v === undefined ? '(removed)' : typeof v === 'string' ? v || '(empty)' : JSON.stringify(v, null, 1));

const Conflicts = ({
  draft,
  conflicts,
  choices,
  onChoose,
}: {
  draft: Plan;
  conflicts: readonly MergeConflict[];
  choices: ReadonlyMap<string, Choice>;
  onChoose: (key: string, c: Choice) => void;
}) => (
  <section aria-label="Conflicts" className="mt-4 border-l-4 border-caution-fill bg-ground px-4 py-3">
    <p className="font-semibold text-caution">
      {plural(conflicts.length, 'field')} {conflicts.length === 1 ? 'was' : 'were'} also changed in the draft. Choose which value to keep.
    </p>
    {conflicts.map((c) => {
      const key = conflictKey(c);
      const body = draft[c.kind][c.id] ?? c.proposed;
      return (
        <fieldset key={key} className="mt-2 border-t border-rule pt-2">
          <legend className="sr-only">{`${KIND_WORD[c.kind]} ${labelOf(c.kind, body)} ${c.field ?? ''}`}</legend>
          <p>
            {KIND_WORD[c.kind]} <span className="wire font-semibold">{labelOf(c.kind, body)}</span>
            {c.field ? `, ${c.field}` : ''}
          </p>
          <div className="mt-1 grid grid-cols-2 gap-3">
            {(['proposed', 'draft'] as const).map((side) => (
              <label
                key={side}
                className={`block cursor-pointer border p-2 ${choices.get(key) === side ? 'border-accent bg-wash' : 'border-rule'}`}
              >
                <span className="flex items-center gap-2 text-sm text-ink-2">
                  <input
                    type="radio"
                    className="accent-accent"
                    name={key}
                    checked={choices.get(key) === side}
                    onChange={() => onChoose(key, side)}
                  />
                  {side === 'proposed' ? 'as proposed' : 'as in the draft'}
                </span>
                <span className="mt-1 block max-h-28 overflow-auto text-[0.9rem] whitespace-pre-wrap">{shown(c[side])}</span>
              </label>
            ))}
          </div>
        </fieldset>
      );
    })}
  </section>
);

export const ProposalReview = ({ id }: { id: string }) => {
  const { store, go } = useWorkplace();
  const { proposal: working } = useDraft();
  const queries = useQueryClient();
  const [choices, setChoices] = useState<ReadonlyMap<string, Choice>>(new Map());
  const [note, setNote] = useState('');
  const { data, error, refetch } = useQuery({
    queryKey: ['proposals', id],
    queryFn: ({ signal }) => ask('GET /api/proposal', { query: { id } }, signal),
  });
  const workplace = useQuery({
    queryKey: ['proposals', 'draft'],
    queryFn: ({ signal }) => ask('GET /api/workplace', {}, signal),
  });
  if (error) return <Failed what="The proposal" error={error} retry={() => void refetch()} />;
  const draft = workplace.data && 'plan' in workplace.data ? workplace.data.plan : undefined;
  if (!data || !draft) return <Loading what="the proposal" />;
  const { proposal: p, base, plan } = data;
  const open = p.status === 'open';
  const all = open ? mergeProposal(base, plan, draft).conflicts : [];
  const left = open ? mergeProposal(base, plan, draft, choices).conflicts.length : 0;
  const decide = async (decision: 'accepted' | 'declined') => {
    try {
      await ask('POST /api/proposal', { body: { id, decision, note, author: authorName(), choices: Object.fromEntries(choices) } });
      if (working?.id === id) await store.switchTo(undefined);
      else await store.load();
      await queries.invalidateQueries({ queryKey: ['proposals'] });
      toast(
        decision === 'accepted' ? 'The proposal is in the draft; publish when ready.' : 'The proposal is declined; it stays in the list.',
      );
      go(...places.plan('proposals'));
    } catch (e) {
      toast.error((e as Error).message);
      await Promise.all([refetch(), workplace.refetch()]);
    }
  };
  return (
    <div className="px-7 py-5">
      <p className={`text-sm font-semibold ${STATUS_TONE[p.status]}`}>{p.status}</p>
      <h2 className="pr-8 text-[1.35rem] font-bold">{p.name}</h2>
      <p className="text-ink-2">
        {p.author}, <Age at={p.at} />, on {p.baseVersion === 0 ? 'an empty plan' : `version ${p.baseVersion}`}.
        {p.decidedBy ? ` ${p.status} by ${p.decidedBy}${p.decisionNote ? `: ${p.decisionNote}` : ''}.` : ''}
      </p>
      {open ? (
        <div className="mt-3 flex items-center gap-2">
          <input
            aria-label="Note on the decision"
            placeholder="note on the decision"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            className={`max-w-[320px] ${FIELD}`}
          />
          <Button look="full" disabled={left > 0} onClick={() => void decide('accepted')}>
            Accept into the draft
          </Button>
          <Button onClick={() => void decide('declined')}>Decline</Button>
          <Button
            look="quiet"
            onClick={() =>
              void store.switchTo(working?.id === id ? undefined : { id, name: p.name }).then(() => go(...places.plan('event')))
            }
          >
            {working?.id === id ? 'Back to the draft' : 'Edit proposal'}
          </Button>
        </div>
      ) : null}
      {all.length > 0 ? (
        <Conflicts draft={draft} conflicts={all} choices={choices} onChoose={(key, c) => setChoices(new Map(choices).set(key, c))} />
      ) : null}
      <h3 className="mt-5 mb-2 font-bold">What it changes</h3>
      <JudgedChanges from={base} to={plan} nothing="It changes nothing yet." />
      <h3 className="mt-5 mb-1 font-bold">What it would do</h3>
      <KeptRuns runs={data.runs} plan={plan} />
      <TryIt plan={plan} tried={{ proposal: id }} text="Try the proposal" keeps={open} />
      <h3 className="mt-5 mb-1 font-bold">Comments</h3>
      <div className="max-w-[560px]">
        <Comments kind="proposal" id={id} />
      </div>
    </div>
  );
};
