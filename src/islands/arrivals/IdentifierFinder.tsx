/** Finds a person by any identifier, or a part of one. */
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { Search } from 'lucide-react';
import { useState } from 'react';
import type { IdentifierNode } from '../../core/table/nodes';
import { ask } from '../../client/api';
import { places } from '../workplace/place';
import { useWorkplace } from '../workplace/context';

export const identifiersLike = (text: string) =>
  queryOptions({
    queryKey: ['identifiers', text],
    queryFn: ({ signal }) => ask('GET /api/identifiers', { query: { like: text } }, signal),
    staleTime: 5000,
  });

export const IdentifierFinder = ({ small, onFound }: { small: boolean; onFound?: (i: IdentifierNode) => void }) => {
  const { go } = useWorkplace();
  const open = onFound ?? ((i: IdentifierNode): void => go(...places.logbook(i)));
  const [text, setText] = useState('');
  const client = useQueryClient();
  const { data } = useQuery({ ...identifiersLike(text), enabled: text.trim().length > 0, placeholderData: (before) => before });
  const found = text.trim() === '' ? [] : (data ?? []);
  /** The first of what contains the whole text, although the list may still show what contains less of it. */
  const openFirst = async (): Promise<void> => {
    const [first] = text.trim() === '' ? [] : await client.fetchQuery(identifiersLike(text));
    if (!first) return;
    open(first);
    setText('');
  };
  return (
    <div className={small ? 'relative w-72' : 'relative w-[440px]'}>
      <label className="flex items-center gap-2 border border-ink-2 px-2">
        <Search size={15} className="text-ink-2" />
        <input
          type="search"
          aria-label="Find a person by an identifier"
          placeholder={small ? 'Find another person' : 'User ID, device, anonymous ID, or a part of it'}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') openFirst().catch(() => undefined);
          }}
          className="w-full bg-transparent py-1.5 wire outline-none placeholder:font-[inherit]"
        />
      </label>
      {text.trim() !== '' && data ? (
        <ul className="absolute z-30 max-h-72 w-full overflow-y-auto border border-t-0 border-ink bg-paper shadow-[4px_4px_0_var(--rule)]">
          {found.map((i) => (
            <li key={`${i.kind} ${i.value}`}>
              <button
                type="button"
                className="flex min-h-[28px] w-full items-baseline gap-3 px-2 text-left hover:bg-wash"
                onClick={() => {
                  open(i);
                  setText('');
                }}
              >
                <span className="wire">{i.value}</span> <span className="ml-auto text-sm text-ink-2">{i.kind}</span>
              </button>
            </li>
          ))}
          {found.length === 0 ? <li className="px-2 py-1 text-ink-2">No identifier contains this.</li> : null}
        </ul>
      ) : null}
    </div>
  );
};
