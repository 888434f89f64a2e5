/** The stand-ins beside the live view: each sends to the real intake. */
import { useState } from 'react';
import { standInsOf } from '../../client/stand-ins';
import { usePlan } from '../workplace/context';

export const StandIns = () => {
  const plan = usePlan();
  const offered = standInsOf(plan);
  const [id, setId] = useState('');
  const chosen = offered.find((s) => s.id === id) ?? offered[0]!;
  return (
    <div className="flex w-[372px] shrink-0 flex-col border-r border-rule">
      <div role="tablist" aria-label="Stand-ins" className="flex border-b border-rule">
        {offered.map((s) => (
          <button
            key={s.id}
            type="button"
            role="tab"
            aria-selected={s === chosen}
            onClick={() => setId(s.id)}
            className={`border-b-2 px-3 py-1.5 ${s === chosen ? 'border-accent font-semibold' : 'border-transparent hover:border-rule'}`}
          >
            {s.tab}
          </button>
        ))}
      </div>
      <iframe key={chosen.id} title={`Stand-in: ${chosen.title}`} src={`/stand-ins/${chosen.id}`} className="min-h-0 w-full flex-1" />
    </div>
  );
};
