/** The margin of a question: may we rely on it, what it serves and needs, and what is said about it. */
import { Trash2 } from 'lucide-react';
import { setField } from '../../core/plan/edit';
import { entries, type Id, type Question } from '../../core/plan/plan';
import { needsOf } from '../../core/questions/coverage';
import { formulaSentence } from '../../core/questions/formulas/index';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { Signal, SIGNAL_WORDS } from '../../ui/Signal';
import { SourceMark } from '../../ui/SourceMark';
import { TextField } from '../../ui/TextField';
import { Comments } from '../plan/Comments';
import { usePlan, useWorkplace } from '../workplace/context';
import { useClearances, useFindings } from '../workplace/queries';
import { QuestionTerms } from './QuestionTerms';
import { places } from '../workplace/place';
import { isOpenRef, refText } from '../../core/plan/property-path';

export const QuestionMargin = ({ id, question }: { id: Id; question: Question }) => {
  const plan = usePlan();
  const { go, store } = useWorkplace();
  const clearance = useClearances().data?.find((c) => c.questionId === id);
  const needs = needsOf(question).filter((n) => n.eventName !== '');
  const names = new Set(needs.map((n) => n.eventName));
  const touching = useFindings().data?.groups.filter((g) => g.touches.some((n) => names.has(n))) ?? [];
  const set = (field: 'decision' | 'owner', value: string) => {
    const edit = setField(plan, 'question', id, field, value);
    if (edit) store.apply([edit], field);
  };
  return (
    <>
      <MarginPart title="Can we rely on it?">
        <button
          type="button"
          className="flex items-center gap-2 font-semibold hover:text-accent"
          onClick={() => go(...places.clearance(id))}
        >
          <Signal state={clearance?.signal ?? 'open'} label={null} /> {clearance ? SIGNAL_WORDS[clearance.signal] : '…'}
        </button>
      </MarginPart>
      <MarginPart title="Decision">
        <TextField
          label="Decision"
          value={question.decision}
          placeholder="What will you do with the answer?"
          onSave={(v) => set('decision', v)}
        />
      </MarginPart>
      <MarginPart title="Owner">
        <TextField label="Owner" value={question.owner} placeholder="Who asks?" onSave={(v) => set('owner', v)} />
      </MarginPart>
      <MarginPart title="Terms">
        <QuestionTerms id={id} question={question} />
      </MarginPart>
      <MarginPart title="Needs">
        {needs.length === 0 ? <p className="text-ink-2">Nothing yet.</p> : null}
        {needs.map((n) => {
          const found = entries(plan, 'event').find(([, e]) => e.name === n.eventName);
          return (
            <div key={n.eventName} className="border-b border-dotted border-rule py-1">
              {found ? (
                <button
                  type="button"
                  className="min-h-[24px] text-left wire underline decoration-dotted hover:text-accent"
                  onClick={() => go(...places.row('event', found[0]))}
                >
                  {n.eventName}
                </button>
              ) : (
                <span className="wire text-caution">{n.eventName}</span>
              )}
              {found ? (
                <span className="ml-2 inline-flex gap-1 align-middle">
                  {found[1].sources.map((x) => {
                    const source = plan.source[x.sourceId];
                    return source ? (
                      <SourceMark key={x.sourceId} letter={source.mark} kind={source.kind} name={`${source.name}, ${x.build}`} />
                    ) : null;
                  })}
                </span>
              ) : null}
              {n.properties.map((p) => (
                <span key={refText(p.name)} className="block pl-3 wire text-ink-2">
                  {isOpenRef(p.name) ? '…' : refText(p.name)}
                </span>
              ))}
            </div>
          );
        })}
      </MarginPart>
      {touching.length > 0 ? (
        <MarginPart title="Findings on its events">
          <button
            type="button"
            className="min-h-[24px] text-left underline decoration-dotted hover:text-accent"
            onClick={() => go(...places.findings())}
          >
            {plural(touching.length, 'finding')} on what arrives
          </button>
        </MarginPart>
      ) : null}
      {question.formula ? (
        <MarginPart title="In one sentence">
          <p className="text-ink-2">{formulaSentence(question.formula)}.</p>
        </MarginPart>
      ) : null}
      <MarginPart title="Comments">
        <Comments key={id} kind="question" id={id} />
      </MarginPart>
      <Button
        look="quiet"
        className="-ml-2 text-sm"
        onClick={() => {
          store.apply([{ op: 'remove', kind: 'question', id, body: question }], 'Question removed');
          go('questions');
        }}
      >
        <Trash2 size={14} /> Remove the question
      </Button>
    </>
  );
};
