/** The stand-ins beside the live view: each sends to the real intake. */
import { useState } from 'react';
import { usePlan } from '../workplace/context';

const STAND_INS = [
  { id: 'web', source: 'web', tab: 'Web', title: 'web catalogue' },
  { id: 'phone', source: 'app', tab: 'Phone', title: 'phone app' },
  { id: 'kiosk', source: 'kiosk', tab: 'Kiosk', title: 'kiosk' },
  { id: 'backend', source: 'backend', tab: 'Backend, traffic', title: 'backend and traffic' },
] as const;

export const StandIns = () => {
  const plan = usePlan();
  const offered = STAND_INS.filter((s) => plan.source[s.source] !== undefined);
  const [id, setId] = useState<string>('web');
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
