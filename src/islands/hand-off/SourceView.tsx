/** Everything to build at a source, as one document; its prerequisites are written down here. */
import { Download, Plus, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { sourceDocument } from '../../core/formats/source-document';
import { markdownOf } from '../../core/formats/blocks';
import { setField } from '../../core/plan/edit';
import type { Id, Prerequisite, Source } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { usePlan, useWorkplace } from '../workplace/context';
import { copy } from './clipboard';
import { DocumentText } from './DocumentText';
import { SendTicket } from './SendTicket';

const LINK = 'text-accent hover:bg-wash flex items-center gap-2 py-1 font-semibold';

export const SourceView = ({ sourceId }: { sourceId: Id }) => {
  const plan = usePlan();
  const { blocks } = useMemo(() => sourceDocument(plan, 0, sourceId), [plan, sourceId]);
  return (
    <>
      <div className="flex items-center gap-2 border-b border-rule py-1.5 pr-10 pl-7">
        <span className="text-ink-2">As the draft is now. Files are of the published version.</span>
        <Button look="full" className="ml-auto" onClick={() => void copy(markdownOf(blocks), 'The document')}>
          Copy as Markdown
        </Button>
      </div>
      <div className="px-7 py-5">
        <DocumentText blocks={blocks} />
      </div>
    </>
  );
};

export const SourceMargin = ({ sourceId, source, published }: { sourceId: Id; source: Source; published: boolean }) => {
  const query = new URLSearchParams({ source: sourceId, ...(published ? {} : { version: 'draft' }) }).toString();
  return (
    <>
      <MarginPart title="Document">
        <SendTicket sourceId={sourceId} />
        <a className={LINK} href={`/api/hand-off-document?${query}&format=html`} download>
          <Download size={15} /> HTML, printable
        </a>
        <a className={LINK} href={`/api/hand-off-document?${query}&format=md`} download>
          <Download size={15} /> Markdown
        </a>
      </MarginPart>
      <Prerequisites sourceId={sourceId} source={source} />
    </>
  );
};

const Prerequisites = ({ sourceId, source }: { sourceId: Id; source: Source }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const [what, setWhat] = useState('');
  const [kind, setKind] = useState<Prerequisite['kind']>('built-in value');
  const all = source.prerequisites ?? [];
  const put = (next: readonly Prerequisite[], label: string): void => {
    const edit = setField(plan, 'source', sourceId, 'prerequisites', next.length === 0 ? undefined : next);
    if (edit) store.apply([edit], label);
  };
  const events = Object.entries(plan.event).filter(([, e]) => !e.retired && e.sources.some((s) => s.sourceId === sourceId));
  return (
    <MarginPart title="Prerequisites">
      {all.length === 0 ? (
        <p className="text-ink-2">
          What has to be in place before its events are built: a value to switch on, a setting that events take over.
        </p>
      ) : null}
      <ul>
        {all.map((p, i) => (
          <li key={i} className="border-t border-rule py-1">
            <span className="flex items-start gap-2">
              <input
                type="checkbox"
                aria-label={`Done: ${p.what}`}
                className="mt-1 accent-accent"
                checked={p.done}
                onChange={(e) =>
                  put(
                    all.map((x, j) => (j === i ? { ...x, done: e.target.checked } : x)),
                    'Prerequisite',
                  )
                }
              />
              <span className="min-w-0 flex-1">
                {p.what}
                <span className="block text-sm text-ink-2">{p.kind}</span>
              </span>
              <button
                type="button"
                aria-label={`Remove ${p.what}`}
                className="min-h-[24px] min-w-[24px] text-ink-2 hover:text-stop"
                onClick={() =>
                  put(
                    all.filter((_, j) => j !== i),
                    'Remove prerequisite',
                  )
                }
              >
                <X size={14} />
              </button>
            </span>
            {p.kind === 'shared setting' ? (
              <details className="text-sm">
                <summary className="text-accent">
                  {p.notInheritedBy.length === 0 ? 'All events take it over' : `${plural(p.notInheritedBy.length, 'event')} left out`}
                </summary>
                {events.map(([id, e]) => (
                  <label key={id} className="flex min-h-[24px] items-center gap-1.5">
                    <input
                      type="checkbox"
                      className="accent-accent"
                      checked={!p.notInheritedBy.includes(id)}
                      onChange={(c) =>
                        put(
                          all.map((x, j) =>
                            j === i
                              ? {
                                  ...x,
                                  notInheritedBy: c.target.checked ? x.notInheritedBy.filter((n) => n !== id) : [...x.notInheritedBy, id],
                                }
                              : x,
                          ),
                          'Prerequisite',
                        )
                      }
                    />
                    <span className="truncate wire">{e.name}</span>
                  </label>
                ))}
              </details>
            ) : null}
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex flex-wrap gap-1 text-sm"
        onSubmit={(e) => {
          e.preventDefault();
          if (what.trim() === '') return;
          put([...all, { what: what.trim(), kind, notInheritedBy: [], done: false }], 'Add prerequisite');
          setWhat('');
        }}
      >
        <input
          aria-label="New prerequisite"
          placeholder="what has to be in place"
          value={what}
          onChange={(e) => setWhat(e.target.value)}
          className="w-full border border-rule bg-transparent px-1 placeholder:text-ink-2"
        />
        <select
          aria-label="Kind of prerequisite"
          value={kind}
          onChange={(e) => setKind(e.target.value === 'shared setting' ? 'shared setting' : 'built-in value')}
          className="border border-rule bg-paper"
        >
          <option>built-in value</option>
          <option>shared setting</option>
        </select>
        <Button type="submit" className="text-sm">
          <Plus size={14} /> Add
        </Button>
      </form>
    </MarginPart>
  );
};
