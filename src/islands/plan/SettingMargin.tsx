/** The margin of a sheet whose rows are settings: the chosen row's texts in full, and what a check finds now. */
import type { Sheet } from '../../core/plan/fields/index';
import type { Id, Plan } from '../../core/plan/plan';
import { count } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { useWorkplace } from '../workplace/context';
import { useFindings } from '../workplace/queries';

const MOST_SHOWN = 8;

const FoundNow = ({ code }: { code: Id }) => {
  const { go } = useWorkplace();
  const { data } = useFindings();
  const own = data?.groups.filter((g) => g.code === code && g.state !== 'mended') ?? [];
  return (
    <MarginPart title={own.length === 0 ? 'What it finds now' : `What it finds now (${count(own.length)})`}>
      {data && own.length === 0 ? <p className="text-ink-2">Nothing that is open.</p> : null}
      {own.slice(0, MOST_SHOWN).map((g) => (
        <button
          key={g.key}
          type="button"
          className="block w-full border-b border-dotted border-rule py-1 text-left text-sm hover:text-accent"
          onClick={() => go('arrivals', g.key)}
        >
          <Rich text={g.sentence} />
        </button>
      ))}
      {own.length > MOST_SHOWN ? <p className="text-sm text-ink-2">and {own.length - MOST_SHOWN} more</p> : null}
    </MarginPart>
  );
};

export const SettingMargin = ({ plan, sheet, id }: { plan: Plan; sheet: Sheet; id: Id | undefined }) => {
  if (id === undefined) return <p className="text-ink-2">Choose a row to see what it does.</p>;
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
          <p className="text-sm text-ink-2">What is set here holds for what arrives once a version is published.</p>
        </>
      ) : null}
    </>
  );
};
