/** What the plan lacks for a question, and the one action that adds exactly that. */
import { lackText, type Coverage } from '../../core/questions/coverage';
import { Button } from '../../ui/Button';
import { Rich } from '../../ui/Rich';
import { usePlan, useWorkplace } from '../workplace/context';

const newId = (): string => crypto.randomUUID();

const Warnings = ({ of }: { of: readonly string[] }) =>
  of.map((w) => (
    <span key={w} className="block text-caution">
      <Rich text={w} />
    </span>
  ));

export const Lacks = ({ coverage }: { coverage: Coverage }) => {
  const { store } = useWorkplace();
  const plan = usePlan();
  if (coverage.state === 'undefined')
    return (
      <p className="border-y border-rule py-2.5 text-ink-2">
        <b className="text-ink">Undefined.</b> {coverage.reason[0]?.toUpperCase()}
        {coverage.reason.slice(1)}.
      </p>
    );
  if (coverage.state === 'answerable')
    return (
      <p className="border-y border-rule py-2.5">
        <b className="text-clear">Answerable.</b> All that it needs is in the plan.
        <Warnings of={coverage.warnings} />
      </p>
    );
  return (
    <div className="border-l-4 border-caution-fill bg-ground px-4 py-3">
      <p className="font-semibold text-caution">The plan cannot answer this yet</p>
      <ul className="mt-1">
        {coverage.lacks.map((l) => (
          <li key={lackText(l)} className="py-0.5">
            <Rich text={lackText(l)} />.
            {l.what === 'event' && l.nearest ? (
              <span className="text-ink-2">
                {' '}
                The nearest planned name is <span className="wire">{l.nearest}</span>.
              </span>
            ) : null}
          </li>
        ))}
      </ul>
      <Warnings of={coverage.warnings} />
      <Button
        className="mt-2"
        look="full"
        onClick={() =>
          void import('../../core/questions/add-lacks').then(({ addLacks }) =>
            store.apply(addLacks(plan, coverage.lacks, newId), 'Added what a question lacked'),
          )
        }
      >
        Add {coverage.lacks.length === 1 ? 'it' : `these ${coverage.lacks.length}`} to the plan
      </Button>
    </div>
  );
};
