/** One event at one source: its ticket, its call in TypeScript, its call over HTTP. */
import { Copy } from 'lucide-react';
import { useMemo, useState } from 'react';
import { callText, placeholdersIn } from '../../core/formats/code/typescript';
import { httpCall } from '../../core/formats/code/http-call';
import { ticketBlocks } from '../../core/formats/event-ticket';
import { markdownOf } from '../../core/formats/blocks';
import type { Id, PlanEvent } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { Empty } from '../../ui/States';
import { SourceMark } from '../../ui/SourceMark';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { copy } from './clipboard';
import { DocumentText } from './DocumentText';

const FORMS = [
  { id: 'ticket', title: 'Ticket' },
  { id: 'typescript', title: 'TypeScript call' },
  { id: 'http', title: 'HTTP call' },
] as const;
type Form = (typeof FORMS)[number]['id'];

export const EventBench = ({ eventId, event, sourceId }: { eventId: Id; event: PlanEvent; sourceId: Id | undefined }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const [form, setForm] = useState<Form>('ticket');
  const source = sourceId === undefined ? undefined : plan.source[sourceId];
  const blocks = useMemo(() => ticketBlocks(plan, eventId, sourceId), [plan, eventId, sourceId]);
  const text =
    form === 'ticket' ? markdownOf(blocks) : form === 'http' ? httpCall(plan, event, source, location.origin) : callText(plan, event);
  const open = form === 'ticket' ? [] : placeholdersIn(text);
  const { title } = FORMS.find((f) => f.id === form)!;
  return (
    <>
      <div className="flex flex-wrap items-center gap-1 border-b border-rule py-1.5 pr-10 pl-7">
        {event.sources.map((s) => {
          const src = plan.source[s.sourceId];
          return src ? (
            <button
              key={s.sourceId}
              type="button"
              aria-pressed={s.sourceId === sourceId}
              onClick={() => go(...places.handOff(eventId, s.sourceId))}
              className={`flex items-center gap-1.5 border-b-2 px-2 py-1 ${s.sourceId === sourceId ? 'border-accent font-semibold' : 'border-transparent hover:border-rule'}`}
            >
              <SourceMark letter={src.mark} kind={src.kind} name="" /> {src.name}
            </button>
          ) : null;
        })}
        <span className="ml-auto flex items-center gap-1">
          <select
            aria-label="What is shown"
            value={form}
            onChange={(e) => setForm(FORMS.find((f) => f.id === e.target.value)!.id)}
            className="border border-rule bg-paper px-1.5 py-1"
          >
            {FORMS.map((f) => (
              <option key={f.id} value={f.id}>
                {f.title}
              </option>
            ))}
          </select>
          <Button look="full" onClick={() => void copy(text, `The ${title}`)}>
            <Copy size={14} /> Copy {form === 'ticket' ? 'ticket' : 'call'}
          </Button>
        </span>
      </div>
      <div className="px-7 py-5">
        {form === 'ticket' ? (
          <DocumentText blocks={blocks} />
        ) : (
          <>
            <pre tabIndex={0} aria-label={title} className="overflow-x-auto border border-rule bg-ground p-3 wire">
              {text}
            </pre>
            {open.length === 0 ? (
              <Empty title="Nothing to replace.">The event carries no properties.</Empty>
            ) : (
              <section aria-label="To be replaced" className="mt-3">
                <h2 className="font-bold">Replace before sending</h2>
                <ul className="mt-1 list-disc pl-5">
                  {open.map((o) => (
                    <li key={o}>
                      <span className="wire">{`{{${o}}}`}</span>
                    </li>
                  ))}
                </ul>
                <p className="mt-2 text-ink-2">
                  None of these can be taken for a value: a message that still holds one is reported as a placeholder, and the TypeScript
                  call does not compile where a number is expected.
                </p>
              </section>
            )}
          </>
        )}
      </div>
    </>
  );
};
