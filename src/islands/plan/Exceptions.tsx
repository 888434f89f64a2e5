/** The rules that an entity is excepted from, with the reasons. */
import { ruleOf } from '../../core/lint/lint';
import { unexcept } from '../../core/plan/fields/exceptions';
import { settingsOf, type Id, type Kind, type Plan } from '../../core/plan/plan';
import { MarginPart } from '../../ui/Frame';
import { useWorkplace } from '../workplace/context';

export const Exceptions = ({ plan, kind, id }: { plan: Plan; kind: Kind; id: Id }) => {
  const { store } = useWorkplace();
  const all = Object.entries(settingsOf(plan).rules).flatMap(([code, set]) =>
    (set.exceptions ?? []).filter((x) => x.kind === kind && x.id === id).map((x) => ({ code, reason: x.reason })),
  );
  if (all.length === 0) return null;
  return (
    <MarginPart title="Exceptions">
      {all.map((x) => (
        <p key={x.code} className="border-b border-dotted border-rule py-1">
          {ruleOf(x.code)?.title}: <span className="text-ink-2">{x.reason}</span>{' '}
          <button
            type="button"
            className="min-h-[24px] text-sm text-ink-2 underline decoration-dotted hover:text-accent"
            onClick={() => {
              const edits = unexcept(plan, x.code, kind, id);
              if (typeof edits !== 'string') store.apply(edits, 'Exception removed');
            }}
          >
            Remove
          </button>
        </p>
      ))}
    </MarginPart>
  );
};
