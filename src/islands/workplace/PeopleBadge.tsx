/** Who is here: oneself, by a name of one's own choice, and the others with where they are. */
import { Users } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { plural } from '../../ui/format';
import { authorName, setAuthorName } from './author';
import { useWorkplace } from './context';
import { STATIONS } from './place';
import type { Present } from '../../core/api/people';
import { useOthers } from './people';

const placeText = (p: Present): string => STATIONS.find((s) => s.id === p.place.split('/')[1])?.title ?? 'somewhere';

export const PeopleBadge = () => {
  const others = useOthers();
  const { go } = useWorkplace();
  const [name, setName] = useState(authorName);
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={others.length === 0 ? 'You are here alone' : `${plural(others.length, 'other person', 'other people')} here`}
        title={others.length === 0 ? 'You are here alone' : others.map((o) => o.author).join(', ')}
        className="inline-flex items-center gap-0.5 p-1 text-ink-2 hover:text-accent"
      >
        <Users size={15} />
        {others.length > 0 ? <b className="text-sm text-accent">{others.length}</b> : null}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" className="z-50 w-72 border border-ink bg-paper p-4 text-left shadow-[4px_4px_0_var(--rule)]">
          <label className="text-sm text-ink-2" htmlFor="author-name">
            Your name, shown with your changes
          </label>
          <input
            id="author-name"
            value={name}
            onChange={(e) => {
              setName(e.target.value);
              setAuthorName(e.target.value);
            }}
            className="mt-0.5 w-full border border-rule bg-transparent px-2 py-1"
          />
          <p className="mt-3 text-sm text-ink-2">{others.length === 0 ? 'Nobody else is here.' : 'Also here'}</p>
          {others.map((o) => (
            <button
              key={o.session}
              type="button"
              className="flex min-h-[26px] w-full items-baseline gap-2 text-left hover:text-accent"
              onClick={() => {
                const [, station, ...item] = o.place.split('/');
                const found = STATIONS.find((s) => s.id === station);
                if (found) go(found.id, item.length > 0 ? item.join('/') : undefined);
              }}
            >
              <b className="truncate">{o.author}</b>
              <span className="ml-auto text-sm whitespace-nowrap text-ink-2">at {placeText(o)}</span>
            </button>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};
