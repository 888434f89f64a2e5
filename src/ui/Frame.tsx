/** The three parts of a screen: list, bench, margin. The margin closes, and slides under the bench on a narrow window. */
import { PanelRightClose, PanelRightOpen } from 'lucide-react';
import { useState, type ReactNode } from 'react';

interface Props {
  readonly list?: ReactNode;
  readonly listLabel: string;
  readonly narrowList?: boolean;
  readonly margin?: ReactNode;
  /** Where closing the margin means that what it shows is no longer chosen. */
  readonly onCloseMargin?: (() => void) | undefined;
  readonly children: ReactNode;
}

export const Frame = ({ list, listLabel, narrowList = false, margin, onCloseMargin, children }: Props) => {
  const [closed, setClosed] = useState(false);
  const shown = margin !== undefined && !closed;
  return (
    <div className="flex min-h-0 flex-1 flex-col overflow-auto lg:flex-row lg:overflow-hidden">
      {list ? (
        <section
          aria-label={listLabel}
          className={`shrink-0 border-b border-rule bg-ground lg:overflow-y-auto lg:border-r lg:border-b-0 ${narrowList ? 'lg:w-[206px]' : 'lg:w-[306px]'}`}
        >
          {list}
        </section>
      ) : null}
      <main id="bench" tabIndex={0} className="relative flex min-w-0 flex-1 flex-col outline-offset-[-2px] lg:min-h-0 lg:overflow-y-auto">
        {margin !== undefined ? (
          <button
            type="button"
            onClick={() => (onCloseMargin ? onCloseMargin() : setClosed(!closed))}
            aria-label={closed ? 'Open the margin' : 'Close the margin'}
            aria-expanded={!closed}
            className="absolute top-2 right-2 z-20 hidden p-1 text-ink-2 hover:text-accent lg:block"
          >
            {closed ? <PanelRightOpen size={17} /> : <PanelRightClose size={17} />}
          </button>
        ) : null}
        {children}
      </main>
      {shown ? (
        <aside
          aria-label="Margin"
          className="shrink-0 border-t border-rule bg-ground p-4 lg:w-[262px] lg:overflow-y-auto lg:border-t-0 lg:border-l"
        >
          {margin}
        </aside>
      ) : null}
    </div>
  );
};

export const MarginPart = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="mb-5 last:mb-0">
    <h3 className="mb-1.5 font-semibold text-ink-2">{title}</h3>
    {children}
  </section>
);

export const ListHead = ({ title, note, children }: { title: string; note?: string; children?: ReactNode }) => (
  <div className="flex items-center gap-2 border-b border-rule px-4 py-2.5">
    <h2 className="text-[1.05rem] font-bold">{title}</h2>
    {note ? <span className="text-sm text-ink-2">{note}</span> : null}
    <span className="ml-auto flex gap-1">{children}</span>
  </div>
);

/** A row of a list; the chosen one has a bar at its edge. */
export const ListRow = ({
  chosen,
  onChoose,
  children,
  className = '',
}: {
  chosen: boolean;
  onChoose: () => void;
  children: ReactNode;
  className?: string;
}) => (
  <button
    type="button"
    aria-current={chosen ? 'true' : undefined}
    onClick={onChoose}
    className={`block w-full border-b border-l-4 border-rule px-3 py-2 text-left ${chosen ? 'border-l-accent bg-paper' : 'border-l-transparent hover:bg-paper'} ${className}`}
  >
    {children}
  </button>
);
