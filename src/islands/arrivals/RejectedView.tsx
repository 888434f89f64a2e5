/** What the intake could not read: each with its bytes, to be fixed and sent again. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from '../../ui/toast';
import type { DeadLetter } from '../../core/arrival/dead-letter';
import { settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { count, dayText, instantText, timeText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { usePlan } from '../workplace/context';
import { useView } from './use-view';

const Letter = ({ letter, onSent }: { letter: DeadLetter; onSent: () => void }) => {
  const [text, setText] = useState(letter.text);
  const [why, setWhy] = useState('');
  const [busy, setBusy] = useState(false);
  const send = async (): Promise<void> => {
    setBusy(true);
    try {
      const { answer } = await ask('POST /api/dead-letters', { body: { id: letter.id, text } });
      toast(`Sent again: ${answer}.`);
      onSent();
    } catch (e) {
      setWhy((e as Error).message);
    }
    setBusy(false);
  };
  return (
    <article aria-label="Rejected message" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
      <h2 className="font-bold">{letter.reason}</h2>
      <p>{letter.detail}</p>
      <p className="mt-1 text-sm text-ink-2">
        {count(letter.size)} bytes, {instantText(letter.at)}
        {letter.whole ? '' : '; only the first of them are kept'}
        {letter.readable ? '' : '; not UTF-8, shown byte by byte'}
      </p>
      <textarea
        aria-label="Bytes as text"
        value={text}
        onChange={(e) => setText(e.target.value)}
        spellCheck={false}
        className="mt-2 h-72 w-full border border-rule bg-ground p-2 wire"
      />
      <div className="mt-2 flex items-center gap-3">
        <Button look="full" disabled={busy || text.trim() === ''} onClick={() => void send()}>
          Send again
        </Button>
        {text === letter.text ? null : (
          <Button look="quiet" onClick={() => setText(letter.text)}>
            Original
          </Button>
        )}
        <span className="text-ink-2">One message; fix it first.</span>
      </div>
      {why ? (
        <p role="alert" className="mt-2 border-l-4 border-stop bg-ground px-3 py-1">
          {why}
        </p>
      ) : null}
    </article>
  );
};

export const RejectedView = () => {
  const plan = usePlan();
  const queries = useQueryClient();
  const { timeZone } = settingsOf(plan);
  const [like, setLike] = useState('');
  const [id, setId] = useState<number | undefined>();
  const { data, error, refetch } = useView('GET /api/dead-letters', { like: like.trim() });
  if (error && !data) return <Failed what="The list" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the list" />;
  const chosen = data.find((l) => l.id === id) ?? data[0];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <header className="px-6 pt-4 pb-2">
        <h1 className="text-[1.2rem] font-bold">Rejected messages</h1>
        <p className="max-w-[80ch] text-ink-2">
          The sender was told each time. The newest ten thousand are kept with their bytes, so that they can be corrected and sent again.
        </p>
        <input
          type="search"
          aria-label="Search the rejected messages"
          placeholder="Search bytes, reason or source"
          value={like}
          onChange={(e) => setLike(e.target.value)}
          className="mt-2 w-80 border border-rule bg-transparent px-2 py-1 placeholder:text-ink-2"
        />
      </header>
      {data.length === 0 ? (
        <Empty title={like.trim() === '' ? 'Nothing was rejected.' : 'No rejected message contains this.'} />
      ) : (
        <div className="flex min-h-0 flex-1 border-t border-rule">
          <ul aria-label="Rejected messages, newest first" className="w-[340px] shrink-0 overflow-y-auto border-r border-rule">
            {data.map((l) => {
              const source = plan.source[l.sourceId];
              return (
                <li key={l.id} className="border-b border-rule">
                  <button
                    type="button"
                    aria-current={l === chosen}
                    onClick={() => setId(l.id)}
                    className={`block w-full px-4 py-1.5 text-left ${l === chosen ? 'bg-wash' : 'hover:bg-ground'}`}
                  >
                    <span className="flex items-center gap-2">
                      {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
                      <b>{l.reason}</b>
                      <span className="ml-auto text-sm whitespace-nowrap text-ink-2 figures">
                        {dayText(l.at, timeZone)}, {timeText(l.at, timeZone)}
                      </span>
                    </span>
                    <span className="block truncate wire text-ink-2">{l.text.slice(0, 120) || 'nothing kept'}</span>
                  </button>
                </li>
              );
            })}
          </ul>
          {chosen ? <Letter key={chosen.id} letter={chosen} onSent={() => void queries.invalidateQueries({ queryKey: ['view'] })} /> : null}
        </div>
      )}
    </div>
  );
};
