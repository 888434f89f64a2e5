/** What events on the same object could carry alike: a matrix, accepted by cell, row, column or all together. */
import { useMemo } from 'react';
import type { Id, Plan } from '../../core/plan/plan';
import { acceptSuggestions, shareSuggestions, suggestionsOf, type ObjectSuggestions } from '../../core/plan/suggestions';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { refOfProperty, refText } from '../../core/plan/property-path';

const Group = ({ plan, group }: { plan: Plan; group: ObjectSuggestions }) => {
  const { store, go } = useWorkplace();
  const lacks = [...group.lacking.values()].reduce((n, l) => n + l.length, 0);
  const accept = (pairs: readonly (readonly [Id, readonly Id[]])[], what: string) => store.apply(acceptSuggestions(plan, pairs), what);
  const nameOf = (id: Id) => refText(refOfProperty(plan.property[id]!));
  return (
    <section className="mb-7">
      <div className="mb-1 flex items-baseline gap-3">
        <h3 className="text-[1.05rem] font-bold">{group.object}</h3>
        <span className="text-sm text-ink-2">
          {plural(group.events.length, 'event')}, {plural(lacks, 'suggestion')}
        </span>
        <span className="ml-auto flex gap-1">
          <Button className="text-sm" onClick={() => accept([...group.lacking], `All suggestions for ${group.object}`)}>
            Accept all
          </Button>
          <Button
            look="quiet"
            className="text-sm"
            title="Create one shared set, used by every event on the object, so that they stay the same"
            onClick={() => store.apply(shareSuggestions(plan, group, crypto.randomUUID()), `Shared set for ${group.object}`)}
          >
            Accept as a shared set
          </Button>
        </span>
      </div>
      <div className="overflow-x-auto">
        <table className="border-collapse">
          <thead>
            <tr>
              <th className="sr-only">event</th>
              {group.properties.map((p) => {
                const events = group.events.filter((e) => group.lacking.get(e)?.includes(p));
                return (
                  <th key={p} className="border-b border-rule px-1 align-bottom font-medium">
                    <button
                      type="button"
                      disabled={events.length === 0}
                      title={events.length === 0 ? 'On all events' : `Add ${nameOf(p)} to ${plural(events.length, 'event')}`}
                      onClick={() =>
                        accept(
                          events.map((e) => [e, [p]] as const),
                          `${nameOf(p)} for all on ${group.object}`,
                        )
                      }
                      className="min-h-[26px] wire text-[0.86rem] enabled:underline enabled:decoration-dotted enabled:hover:text-accent"
                    >
                      {nameOf(p)}
                    </button>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {group.events.map((e) => {
              const lacking = group.lacking.get(e) ?? [];
              return (
                <tr key={e} className="border-b border-rule">
                  <th scope="row" className="pr-4 text-left font-medium whitespace-nowrap">
                    <button type="button" className="min-h-[28px] wire hover:text-accent" onClick={() => go(...places.row('event', e))}>
                      {plan.event[e]!.name}
                    </button>
                    {lacking.length > 0 ? (
                      <button
                        type="button"
                        className="ml-2 min-h-[24px] text-sm text-accent hover:bg-wash"
                        onClick={() => accept([[e, lacking]], `Suggestions for ${plan.event[e]!.name}`)}
                      >
                        + {lacking.length}
                      </button>
                    ) : null}
                  </th>
                  {group.properties.map((p) => (
                    <td key={p} className="px-1 text-center">
                      {lacking.includes(p) ? (
                        <button
                          type="button"
                          aria-label={`Add ${nameOf(p)} to ${plan.event[e]!.name}`}
                          title={`Add ${nameOf(p)} to ${plan.event[e]!.name}`}
                          onClick={() => accept([[e, [p]]], `${nameOf(p)} for ${plan.event[e]!.name}`)}
                          className="size-6 border border-dashed border-accent text-accent hover:bg-wash"
                        >
                          +
                        </button>
                      ) : (
                        <span role="img" aria-label="carries it" className="inline-block size-3 bg-accent" />
                      )}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
};

export const Suggestions = ({ plan }: { plan: Plan }) => {
  const groups = useMemo(() => suggestionsOf(plan), [plan]);
  if (groups.length === 0)
    return (
      <Empty title="Nothing to suggest.">
        Events on the same object already carry the same properties, or no two events share an object.
      </Empty>
    );
  return (
    <div className="px-7 py-5">
      <h2 className="text-lg font-bold">Shared properties</h2>
      <p className="mt-1 mb-5 max-w-[700px] text-ink-2">
        A full square is carried; a plus adds it: in one cell, with the name of a property for all events, with the number beside an event
        for all that it lacks. Accept only what the source knows at that moment.
      </p>
      {groups.map((g) => (
        <Group key={g.object} plan={plan} group={g} />
      ))}
    </div>
  );
};
