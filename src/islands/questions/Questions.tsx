/** The Questions station. */
import { Grid3x3, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { blank } from '../../core/plan/defaults';
import { setField } from '../../core/plan/edit';
import { entries, type Id, type Question } from '../../core/plan/plan';
import { coverageOf, needsOf, type Coverage } from '../../core/questions/coverage';
import type { Formula } from '../../core/questions/formula';
import { economyOf } from '../../core/questions/economy';
import { formulas, formulaSentence, startFormula } from '../../core/questions/formulas/index';
import { Button } from '../../ui/Button';
import { decimal, plural } from '../../ui/format';
import { Frame, ListHead, ListRow, MarginPart } from '../../ui/Frame';
import { Signal, SIGNAL_WORDS } from '../../ui/Signal';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { TextField } from '../../ui/TextField';
import { Comments } from '../plan/Comments';
import { usePlan, useWorkplace } from '../workplace/context';
import { useClearances, useFindings } from '../workplace/queries';
import { CoverageView } from './CoverageView';
import { FormulaSentence } from './FormulaSentence';
import { Lacks } from './Lacks';
import { QuestionFigure } from './QuestionFigure';
import { priorityTitle, QuestionTerms } from './QuestionTerms';

const STATE_TEXT: Record<Coverage['state'], string> = { answerable: 'answerable', partly: 'partly', undefined: 'undefined' };
const STATE_TONE: Record<Coverage['state'], string> = {
  answerable: 'text-clear',
  partly: 'text-caution font-semibold',
  undefined: 'text-ink-2',
};

/** The place of the matrix; no question has this id, since ids are longer. */
const COVERAGE = 'coverage';

const Economy = ({ chosen }: { chosen: boolean }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const e = useMemo(() => economyOf(plan), [plan]);
  return (
    <ListRow chosen={chosen} onChoose={() => go('questions', COVERAGE)}>
      <span className="flex items-center gap-2">
        <Grid3x3 size={14} className="text-ink-2" />
        <span className="font-medium">Coverage</span>
        <span className="ml-auto text-sm text-ink-2" title="Answerable questions for each event of the plan">
          {e.answeredPerEvent === undefined ? 'no event yet' : `${decimal(e.answeredPerEvent)} answered per event`}
        </span>
      </span>
    </ListRow>
  );
};

/** Makes a question at the end of the list, and goes there. */
const useNewQuestion = (): (() => void) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  return () => {
    const id = crypto.randomUUID();
    const order = Math.max(0, ...Object.values(plan.question).map((q) => q.order)) + 1;
    store.apply([{ op: 'create', kind: 'question', id, body: blank('question', { order }) }], 'New question');
    go('questions', id);
  };
};

const QuestionList = ({ chosen }: { chosen: Id | undefined }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const [search, setSearch] = useState('');
  const all = useMemo(() => entries(plan, 'question').sort(([, a], [, b]) => a.order - b.order), [plan]);
  const shown = all.filter(([, q]) => q.text.toLowerCase().includes(search.toLowerCase()));
  const add = useNewQuestion();
  return (
    <>
      <ListHead title="Questions" note={String(all.length)}>
        <Button look="quiet" onClick={add}>
          <Plus size={15} /> New
        </Button>
      </ListHead>
      <Economy chosen={chosen === COVERAGE} />
      {all.length > 8 ? (
        <input
          aria-label="Search the questions"
          placeholder="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          className="w-full border-b border-rule bg-transparent px-4 py-1.5 placeholder:text-ink-2"
        />
      ) : null}
      {shown.map(([id, q]) => {
        const { state } = coverageOf(plan, q);
        return (
          <ListRow key={id} chosen={id === chosen} onChoose={() => go('questions', id)}>
            <span className="flex gap-2">
              <span className={`font-medium ${q.text ? '' : 'text-ink-2'}`}>{q.text || 'Not written yet'}</span>
              <span className={`ml-auto text-sm ${STATE_TONE[state]}`}>{STATE_TEXT[state]}</span>
            </span>
            <span className="block text-sm text-ink-2">
              {q.formula?.type ?? 'no formula yet'}
              {q.priority === 2 ? '' : `, ${priorityTitle(q.priority)}`}
            </span>
          </ListRow>
        );
      })}
      {shown.length === 0 ? (
        <p className="p-4 text-ink-2">
          {all.length === 0 ? 'No question yet. Begin with what somebody wants to decide.' : 'None is called that.'}
        </p>
      ) : null}
    </>
  );
};

const FormulaChoice = ({ question, onChoose }: { question: Question; onChoose: (f: Formula) => void }) => (
  <div className="grid grid-cols-2 gap-2.5">
    {formulas.map((d) => (
      <button
        key={d.type}
        type="button"
        onClick={() => onChoose(startFormula(d.type, question.formula))}
        className="border border-rule px-3 py-2 text-left hover:border-accent hover:bg-wash"
      >
        <span className="font-bold text-accent">{d.title}</span>
        <span className="mt-0.5 block text-ink-2">{d.asks}</span>
      </button>
    ))}
  </div>
);

const QuestionBench = ({ id, question }: { id: Id; question: Question }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const [changing, setChanging] = useState(false);
  const coverage = coverageOf(plan, question);
  const set = <F extends keyof Question & string>(field: F, value: Question[F], label: string) => {
    const edit = setField(plan, 'question', id, field, value);
    if (edit) store.apply([edit], label);
  };
  const { formula } = question;
  return (
    <div className="max-w-[860px] px-7 py-5">
      <TextField
        label="The question"
        value={question.text}
        placeholder="What does somebody want to know?"
        autoFocus={question.text === ''}
        className="pr-8 text-[1.55rem] leading-tight font-bold"
        onSave={(v) => set('text', v.trim(), 'Question')}
      />
      <TextField
        label="Definition"
        value={question.definition}
        placeholder="What it means exactly, in words"
        className="mt-1 text-ink-2"
        onSave={(v) => set('definition', v, 'Definition')}
      />
      <div className="mt-4">
        {formula && !changing ? (
          <>
            <FormulaSentence plan={plan} formula={formula} onChange={(f, what) => set('formula', f, what)} />
            <Button look="quiet" className="-ml-2 text-sm" onClick={() => setChanging(true)}>
              Another formula
            </Button>
          </>
        ) : (
          <FormulaChoice
            question={question}
            onChoose={(f) => {
              setChanging(false);
              set('formula', f, `Formula: ${f.type}`);
            }}
          />
        )}
      </div>
      <div className="mt-3">
        <Lacks coverage={coverage} />
      </div>
      {formula && coverage.state !== 'undefined' ? <QuestionFigure formula={formula} /> : null}
    </div>
  );
};

const QuestionMargin = ({ id, question }: { id: Id; question: Question }) => {
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
      <MarginPart title="May we rely on it?">
        <button type="button" className="flex items-center gap-2 font-semibold hover:text-accent" onClick={() => go('clearance', id)}>
          <Signal state={clearance?.signal ?? 'open'} label={null} /> {clearance ? SIGNAL_WORDS[clearance.signal] : '…'}
        </button>
      </MarginPart>
      <MarginPart title="Decision it serves">
        <TextField
          label="Decision"
          value={question.decision}
          placeholder="What will be done with the answer?"
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
                  onClick={() => go('plan', `event:${found[0]}`)}
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
                <span key={p.name} className="block pl-3 wire text-ink-2">
                  {p.name || '…'}
                </span>
              ))}
            </div>
          );
        })}
      </MarginPart>
      {touching.length > 0 ? (
        <MarginPart title="Findings that touch it">
          <button
            type="button"
            className="min-h-[24px] text-left underline decoration-dotted hover:text-accent"
            onClick={() => go('arrivals')}
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
      <MarginPart title="Said about it">
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

/** The six steps, for somebody who sees the line for the first time. */
const STEPS: readonly (readonly [string, string])[] = [
  ['Questions', 'Write down what somebody wants to decide, and the figure that tells it.'],
  ['Plan', 'Add the few events and properties that the figures need, named by one convention.'],
  ['Identity', 'Say which identifiers each source carries and what links them; rehearse it.'],
  ['Hand-off', 'Give engineers tickets, schemas and a write key.'],
  ['Arrivals', 'Watch what really comes, and find the cause of each difference.'],
  ['Clearance', 'See, question by question, whether the answer may be relied on.'],
];

const Beginning = ({ gone }: { gone: boolean }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const add = useNewQuestion();
  const isNew = Object.keys(plan.event).length === 0;
  return (
    <>
      <Empty title={gone ? 'This question is not here any more.' : 'Begin with a question, not with an event.'}>
        Write down what somebody wants to decide; the events and properties follow from it.
        <p className="mt-4 flex justify-center gap-2">
          <Button look="full" onClick={add}>
            <Plus size={15} /> Write a question
          </Button>
          {isNew ? (
            <>
              <Button onClick={() => go('plan', 'files')}>Bring in a plan</Button>
              <Button onClick={() => go('plan', 'workspace')}>Name the workspace</Button>
            </>
          ) : null}
        </p>
      </Empty>
      {isNew && !gone ? (
        <ol aria-label="The six steps" className="mx-auto w-full max-w-[640px] border-t border-ink">
          {STEPS.map(([title, text], i) => (
            <li key={title} className="grid grid-cols-[28px_96px_1fr] border-b border-rule py-2">
              <span className="text-ink-2 figures">{i + 1}</span>
              <b>{title}</b>
              <span className="text-ink-2">{text}</span>
            </li>
          ))}
        </ol>
      ) : null}
    </>
  );
};

const Questions = () => {
  const plan = usePlan();
  const { place } = useWorkplace();
  const first = entries(plan, 'question').sort(([, a], [, b]) => a.order - b.order)[0]?.[0];
  const id = place.item ?? first;
  const question = id === undefined ? undefined : plan.question[id];
  if (id === COVERAGE)
    return (
      <Frame list={<QuestionList chosen={id} />} listLabel="Questions">
        <CoverageView />
      </Frame>
    );
  return (
    <Frame
      list={<QuestionList chosen={id} />}
      listLabel="Questions"
      margin={id !== undefined && question ? <QuestionMargin key={id} id={id} question={question} /> : undefined}
    >
      {id !== undefined && question ? (
        <QuestionBench key={id} id={id} question={question} />
      ) : (
        <Beginning gone={place.item !== undefined} />
      )}
    </Frame>
  );
};

export default Questions;
