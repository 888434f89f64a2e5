/** The entries of a station's list, under headings that say what they are for. */
import type { ReactNode } from 'react';

export interface NavEntry {
  readonly id: string;
  readonly title: string;
  readonly note?: ReactNode;
}

export interface NavGroup {
  readonly title: string;
  readonly entries: readonly NavEntry[];
}

export const GroupedNav = ({
  label,
  groups,
  chosen,
  onChoose,
}: {
  label: string;
  groups: readonly NavGroup[];
  chosen: string | undefined;
  onChoose: (id: string) => void;
}) => (
  <nav aria-label={label} className="grid grid-cols-2 gap-x-4 px-2 py-1 sm:grid-cols-4 lg:block">
    {groups.map((g) => (
      <section key={g.title} aria-label={g.title} className="mb-1">
        <h3 className="px-2 text-sm leading-snug font-semibold text-ink-2">{g.title}</h3>
        {g.entries.map((e) => (
          <button
            key={e.id}
            type="button"
            aria-current={e.id === chosen ? 'page' : undefined}
            onClick={() => onChoose(e.id)}
            className={`flex min-h-[25px] w-full items-center gap-2 border-l-4 px-2 text-left leading-tight ${e.id === chosen ? 'border-l-accent bg-paper font-semibold' : 'border-l-transparent hover:bg-paper'}`}
          >
            {e.title}
            {e.note === undefined ? null : <span className="ml-auto text-sm font-normal text-ink-2">{e.note}</span>}
          </button>
        ))}
      </section>
    ))}
  </nav>
);
