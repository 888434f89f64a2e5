/** The stand-ins beside the live view: each sends to the real intake. */
import { useRef, useState } from 'react';
import { standInsOf } from '../../client/stand-ins';
import { later } from '../../ui/later';
import { usePlan } from '../workplace/context';

const PointAt = later(() => import('./PointAt').then((m) => m.PointAt));

export const StandIns = () => {
  const plan = usePlan();
  const offered = standInsOf(plan);
  const [id, setId] = useState('');
  const [pointing, setPointing] = useState(false);
  const frame = useRef<HTMLIFrameElement>(null);
  const chosen = offered.find((s) => s.id === id) ?? offered[0]!;
  // Interactions come from pages that record them.
  const records = chosen.recordsInteractions;
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
      <iframe
        ref={frame}
        key={chosen.id}
        title={`Stand-in: ${chosen.title}`}
        src={`/stand-ins/${chosen.id}`}
        className="min-h-0 w-full flex-1"
      />
      {records ? (
        <label className="flex min-h-[28px] items-center gap-2 border-t border-rule px-3 text-sm">
          <input type="checkbox" className="accent-accent" checked={pointing} onChange={(e) => setPointing(e.target.checked)} />
          Name what I point at
        </label>
      ) : null}
      {records && pointing ? <PointAt key={chosen.id} frame={frame} /> : null}
    </div>
  );
};
