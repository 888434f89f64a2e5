/** The findings of the station's list: narrowed by source, event and release, each under where it is. */
import { useState } from 'react';
import type { TriagedFinding } from '../../core/arrival/triage';
import { byDanger } from '../../core/arrival/danger';
import { count } from '../../ui/format';
import { ListRow } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { usePlan } from '../workplace/context';
import { SEVERITY_FILL } from '../../ui/severity-tone';

const FindingRow = ({ group, chosen, onChoose }: { group: TriagedFinding; chosen: boolean; onChoose: () => void }) => {
  const plan = usePlan();
  const source = plan.source[group.sourceId];
  return (
    <ListRow chosen={chosen} onChoose={onChoose}>
      <span className="flex items-center gap-2 text-sm">
        <span className={`size-2.5 shrink-0 rotate-45 ${SEVERITY_FILL[group.severity]}`} />
        <b>{group.title}</b>
        <span className="ml-auto text-ink-2 figures">{count(group.count)}</span>
        {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
      </span>
      <span className="mt-0.5 line-clamp-3 text-[0.93rem] leading-snug">
        <Rich text={group.sentence} />
      </span>
    </ListRow>
  );
};

const PARTS = [
  { state: 'open', title: 'Open' },
  { state: 'acknowledged', title: 'Acknowledged' },
  { state: 'fixed', title: 'Fixed' },
] as const;

type Narrow = { readonly [K in 'source' | 'event' | 'release']: string };
const ALL: Narrow = { source: '', event: '', release: '' };

const passes = (g: TriagedFinding, n: Narrow): boolean =>
  (n.source === '' || g.sourceId === n.source) &&
  (n.event === '' || g.touches.includes(n.event)) &&
  (n.release === '' || g.releases.includes(n.release));

const SELECT = 'min-w-0 flex-1 border border-rule bg-paper px-1 py-0.5 text-sm';

export const FindingRows = ({
  groups,
  chosen,
  onChoose,
}: {
  groups: readonly TriagedFinding[];
  chosen: string | undefined;
  onChoose: (key: string) => void;
}) => {
  const plan = usePlan();
  const [narrow, setNarrow] = useState(ALL);
  const shown = byDanger(
    plan,
    groups.filter((g) => passes(g, narrow)),
  );
  const options: { readonly [K in keyof Narrow]: readonly string[] } = {
    source: [...new Set(groups.map((g) => g.sourceId))].sort(),
    event: [...new Set(groups.flatMap((g) => g.touches))].sort(),
    release: [...new Set(groups.flatMap((g) => g.releases.filter(Boolean)))].sort(),
  };
  const nameOf = (by: keyof Narrow, v: string): string => (by === 'source' ? (plan.source[v]?.name ?? v) : v);
  return (
    <>
      {groups.length > 0 ? (
        <div className="flex gap-1 border-b border-rule px-4 py-1.5">
          {(['source', 'event', 'release'] as const).map((by) => (
            <select
              key={by}
              aria-label={`Findings of one ${by}`}
              value={narrow[by]}
              onChange={(e) => setNarrow({ ...narrow, [by]: e.target.value })}
              className={`${SELECT} ${narrow[by] === '' ? 'text-ink-2' : 'border-accent font-semibold'}`}
            >
              <option value="">{by}</option>
              {options[by].map((v) => (
                <option key={v} value={v}>
                  {nameOf(by, v)}
                </option>
              ))}
            </select>
          ))}
        </div>
      ) : null}
      {PARTS.map(({ state, title }) => {
        const part = shown.filter((g) => g.state === state);
        return part.length === 0 ? null : (
          <section key={state} aria-label={title}>
            {state === 'open' ? null : (
              <h3 className="border-b border-rule px-4 pt-4 pb-1 text-sm font-semibold text-ink-2">
                {title} <span className="font-normal">{count(part.length)}</span>
              </h3>
            )}
            {part.map((g) => (
              <FindingRow key={g.key} group={g} chosen={g.key === chosen} onChoose={() => onChoose(g.key)} />
            ))}
          </section>
        );
      })}
      {groups.length > 0 && shown.length === 0 ? (
        <p className="p-4 text-ink-2">
          All {count(groups.length)} findings are filtered out.{' '}
          <button type="button" className="min-h-[24px] text-accent underline decoration-dotted" onClick={() => setNarrow(ALL)}>
            Show all
          </button>
        </p>
      ) : null}
    </>
  );
};
