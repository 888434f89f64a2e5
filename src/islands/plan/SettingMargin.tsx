/** The margin of a sheet whose rows are settings: the chosen row's texts in full, and what a check finds now. */
import type { Sheet } from '../../core/plan/fields/sheets';
import type { Id, Plan } from '../../core/plan/plan';
import { count } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { useFindings } from '../workplace/queries';

const MAX_SHOWN = 8;

const FoundNow = ({ code }: { code: Id }) => {
  const { go } = useWorkplace();
  const { data } = useFindings();
  const own = data?.groups.filter((g) => g.code === code && g.state !== 'fixed') ?? [];
  return (
    <MarginPart title={own.length === 0 ? 'Current findings' : `Current findings (${count(own.length)})`}>
      {data && own.length === 0 ? <p className="text-ink-2">Nothing open.</p> : null}
      {own.slice(0, MAX_SHOWN).map((g) => (
        <button
          key={g.key}
          type="button"
          className="block w-full border-b border-dotted border-rule py-1 text-left text-sm hover:text-accent"
          onClick={() => go(...places.finding(g.key))}
        >
          <Rich text={g.sentence} />
        </button>
      ))}
      {own.length > MAX_SHOWN ? <p className="text-sm text-ink-2">and {own.length - MAX_SHOWN} more</p> : null}
    </MarginPart>
  );
};

export const SettingMargin = ({ plan, sheet, id }: { plan: Plan; sheet: Sheet; id: Id | undefined }) => {
  if (id === undefined) return <p className="text-ink-2">Select a row to see what it does.</p>;
  const [title, ...others] = sheet.fields;
  const said = others
    .filter((f) => f.write === undefined && f.width > 100)
    .map((f) => ({ title: f.title, lines: f.key === 'meaning' ? f.read(plan, id).split('; ') : [f.read(plan, id)] }));
  return (
    <>
      <p className="mb-3 pr-6 text-[1.05rem] font-semibold">{title?.read(plan, id)}</p>
      {said
        .filter((s) => s.lines[0] !== '')
        .map((s) => (
          <MarginPart key={s.title} title={s.title}>
            {s.lines.map((line) => (
              <p key={line} className="mb-1">
                {line}
              </p>
            ))}
          </MarginPart>
        ))}
      {sheet.id === 'arrival-checks' ? (
        <>
          <FoundNow code={id} />
          <p className="text-sm text-ink-2">Settings apply to arriving messages once a version is published.</p>
        </>
      ) : null}
    </>
  );
};
