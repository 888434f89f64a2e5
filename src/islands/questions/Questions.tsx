/** The Questions station. */
import { Grid3x3, Plus } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { setField } from '../../core/plan/edit';
import { entries, type Id, type Question } from '../../core/plan/plan';
import { coverageOf, type Coverage } from '../../core/questions/coverage';
import type { Formula } from '../../core/questions/formula';
import { economyOf } from '../../core/questions/economy';
import { formulas, startFormula } from '../../core/questions/formulas/index';
import { Button } from '../../ui/Button';
import { decimal } from '../../ui/format';
import { Frame, ListHead, ListRow } from '../../ui/Frame';
import { TextField } from '../../ui/TextField';
import { usePlan, useWorkplace } from '../workplace/context';
import { Beginning } from './Beginning';
import { FormulaSentence } from './FormulaSentence';
import { Lacks } from './Lacks';
import { QuestionMargin } from './QuestionMargin';
import { priorityTitle } from './QuestionTerms';
import { places } from '../workplace/place';
import { later } from '../../ui/later';
import { Loading } from '../../ui/States';
import { focusTaken, takesFocus } from '../../ui/focus-added';
import { UntrustedNote } from './UntrustedNote';
import { useNewQuestion } from './use-new-question';

const CoverageView = later(() => import('./CoverageView').then((m) => m.CoverageView), <Loading what="the coverage" />);
const QuestionFigure = later(() => import('./QuestionFigure').then((m) => m.QuestionFigure), <Loading what="the figure" />);

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
    <ListRow chosen={chosen} onChoose={() => go(...places.question(COVERAGE))}>
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
          <ListRow key={id} chosen={id === chosen} onChoose={() => go(...places.question(id))}>
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
        <p className="p-4 text-ink-2">{all.length === 0 ? 'No question yet. Start with what somebody wants to decide.' : 'No matches.'}</p>
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
  const [made] = useState(() => takesFocus(id));
  useEffect(() => focusTaken(id), [id]);
  const coverage = coverageOf(plan, question);
  const set = <F extends keyof Question>(field: F, value: Question[F], label: string) => {
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
        autoFocus={made || question.text === ''}
        className="pr-8 text-[1.55rem] leading-tight font-bold"
        onSave={(v) => set('text', v.trim(), 'Question')}
      />
      <TextField
        label="Definition"
        value={question.definition}
        placeholder="Exact meaning, in words"
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
      {formula && coverage.state !== 'undefined' ? (
        <>
          <UntrustedNote questionId={id} />
          <QuestionFigure formula={formula} />
        </>
      ) : null}
    </div>
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
