/** A definition on the bench: its sentence, what it takes while it is written, and its other fields. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ArrowLeft } from 'lucide-react';
import { useDeferredValue, useState } from 'react';
import { ask } from '../../client/api';
import type { Definition } from '../../core/definitions/definition';
import { conditionText } from '../../core/definitions/text';
import { vacuousIn } from '../../core/definitions/vacuous';
import { editsToSave, finished, openParts, sentenceOf, type Sentence } from '../../core/definitions/writing';
import { sameValue } from '../../core/plan/edit';
import type { Sheet } from '../../core/plan/fields/sheets';
import { entries, type Id, type Plan, type PlanDefinition } from '../../core/plan/plan';
import { replaceEvent } from '../../core/plan/rename';
import { withDefinedEvents } from '../../core/definitions/planned';
import { Choice } from '../../ui/Choice';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { Empty, Loading } from '../../ui/States';
import { places } from '../workplace/place';
import { useWorkplace } from '../workplace/context';
import { DefinitionPreview } from './DefinitionPreview';
import { DefinitionSentence } from './DefinitionSentence';
import { FieldRow } from './FieldRow';
import { TryIt } from './TryIt';
import { useWriting } from './use-writing';

/** What is written, and what it was begun from. */
interface Writing {
  readonly begun: PlanDefinition;
  readonly sentence: Sentence;
}

const Trouble = ({ plan, definition }: { plan: Plan; definition: Definition }) => {
  const vacuous = vacuousIn(definition.where);
  if (!vacuous) return null;
  const conditions = vacuous.conditions.map((c) => conditionText(c, (id) => plan.source[id]?.name ?? id)).join(', ');
  return (
    <p role="alert" className="text-caution">
      {vacuous.what === 'never' ? 'No message can fulfil this: ' : 'Every message fulfils this, so it narrows nothing: '}
      <Rich text={conditions} />.
    </p>
  );
};

/** Another event in its place, everywhere: tried first, then done. */
const Replace = ({ plan, name }: { plan: Plan; name: string }) => {
  const { store } = useWorkplace();
  const [to, setTo] = useState('');
  const edits = to === '' ? [] : replaceEvent(plan, name, to);
  const others = entries(withDefinedEvents(plan), 'event').filter(([, e]) => !e.retired && e.name !== name);
  return (
    <section aria-label="Replace" className="mt-4 border-t border-rule pt-3">
      <p>
        Use{' '}
        <Choice
          label="Another event instead"
          wire
          value={to}
          placeholder="another event"
          options={others.map(([, e]) => ({ value: e.name, note: e.flow || 'defined' }))}
          onChoose={setTo}
        />{' '}
        instead, everywhere.
        {to === '' ? null : (
          <span className="text-ink-2">
            {' '}
            {edits.length === 0
              ? 'Nothing asks about this one.'
              : `${plural(edits.length, 'question or definition', 'questions and definitions')} would change.`}
          </span>
        )}
      </p>
      {edits.length > 0 ? (
        <div className="mt-2 flex flex-col gap-2">
          <TryIt key={to} plan={plan} tried={{ edits }} text="Try the replacement" />
          <span>
            <Button onClick={() => store.apply(edits, `${to} instead of ${name}`, () => setTo(''))}>Replace</Button>
          </span>
        </div>
      ) : null}
    </section>
  );
};

const Bench = ({ plan, sheet, id, saved }: { plan: Plan; sheet: Sheet; id: Id; saved: PlanDefinition }) => {
  const { go, store } = useWorkplace();
  const how = useWriting();
  const [writing, setWriting] = useState<Writing>();
  const sentence = writing?.sentence ?? sentenceOf(saved);
  const changed = writing !== undefined && !sameValue(writing.sentence, sentenceOf(writing.begun));
  const open = openParts(sentence);
  // What was found of another sentence is not shown beside this one.
  const edits = changed && open === 0 ? editsToSave(id, writing.begun, writing.sentence) : [];
  const definition: Definition = { name: saved.name, ...finished(sentence) };
  const asked = useDeferredValue(JSON.stringify(definition));
  const { data, error, isFetching } = useQuery({
    queryKey: ['definition-preview', id, asked],
    queryFn: ({ signal }) => ask('POST /api/definition-preview', { body: { id, definition: JSON.parse(asked) as Definition } }, signal),
    placeholderData: keepPreviousData,
    enabled: definition.source.of !== 'events' || definition.source.names.length > 0,
    retry: 1,
  });
  const write = (next: Sentence): void => setWriting({ begun: writing?.begun ?? saved, sentence: next });
  const save = (): void => {
    if (!writing) return;
    store.apply(editsToSave(id, writing.begun, writing.sentence), `Definition ${saved.name}`, () => setWriting(undefined));
  };
  return (
    <div className="max-w-[900px] px-7 py-4">
      <Button look="quiet" className="-ml-2 text-sm" onClick={() => go(...places.row(sheet.id, id))}>
        <ArrowLeft size={14} /> {sheet.title}
      </Button>
      <h2 className="mt-1 mb-2 pr-8 wire text-[1.35rem] font-bold break-words">{saved.name || '(no name yet)'}</h2>
      <DefinitionSentence plan={plan} own={saved.name} sentence={sentence} onChange={write} />
      <Trouble plan={plan} definition={definition} />
      <div className="my-2 flex flex-wrap items-center gap-3">
        <Button look="full" disabled={!changed || open > 0 || error !== null} onClick={save}>
          Save the sentence
        </Button>
        <Button disabled={!changed} onClick={() => setWriting(undefined)}>
          Discard changes
        </Button>
        <span className="text-sm text-ink-2" role="status">
          {open > 0
            ? `${plural(open, 'part is', 'parts are')} still open.`
            : changed
              ? 'Not saved yet. What it takes is shown below.'
              : 'Saved in the draft.'}
          {isFetching && data ? ' Counting …' : ''}
        </span>
      </div>
      {error ? (
        <p role="alert" className="text-stop">
          {error.message}
        </p>
      ) : data ? (
        <DefinitionPreview plan={plan} definition={JSON.parse(asked) as Definition} preview={data} conversion={saved.conversion} />
      ) : definition.source.of === 'events' && definition.source.names.length === 0 ? (
        <p className="text-ink-2">Choose what it is made of: an event, interactions or views. Then you see here what it takes.</p>
      ) : (
        <Loading what="what it takes" />
      )}
      <section aria-label="Dry run" className="mt-4 border-t border-rule pt-3">
        <TryIt key={JSON.stringify(edits)} plan={plan} tried={{ edits }} />
      </section>
      <Replace plan={plan} name={saved.name} />
      <div className="mt-5 grid grid-cols-2 gap-x-5 gap-y-2.5 border-t border-rule pt-3">
        {sheet.fields
          .filter((f) => f.write && f.key !== 'source')
          .map((f) => (
            <FieldRow key={f.key} plan={plan} field={f} id={id} how={how} />
          ))}
      </div>
    </div>
  );
};

export const DefinitionDetail = ({ plan, sheet, id }: { plan: Plan; sheet: Sheet; id: Id }) => {
  const saved = plan.definition[id];
  return saved ? (
    <Bench plan={plan} sheet={sheet} id={id} saved={saved} />
  ) : (
    <Empty title="This definition no longer exists.">It was removed, or the address belongs to another plan.</Empty>
  );
};
