/** One person as a graph of identifiers, with the link that joined each; a wrong one is cut here, with a reason. */
import { useState } from 'react';
import { toast } from '../../ui/toast';
import { settingsOf } from '../../core/plan/plan';
import type { IdentifierNode } from '../../core/table/nodes';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { count, dayText, instantText, plural } from '../../ui/format';
import { Failed, Loading } from '../../ui/States';
import { IdentifierFinder } from '../arrivals/IdentifierFinder';
import { useView } from '../arrivals/use-view';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from '../workplace/context';
import { PersonGraph } from './PersonGraph';
import { useRules } from './Rules';
import { useOwnCases } from './use-cases';
import { places } from '../workplace/place';
import { useRulesShown } from './rules-shown';

/** Beyond so many identifiers the drawing says less than the table. */
const MAX_DRAWN = 14;

export const PersonView = ({ identifier }: { identifier: IdentifierNode | undefined }) => {
  const plan = usePlan();
  const { place, go, lookThrough } = useWorkplace();
  const shown = useRulesShown();
  const [rules, set] = useRules();
  const [cases, setCases] = useOwnCases();
  const { timeZone } = settingsOf(plan);
  const [cutting, setCutting] = useState<number | undefined>();
  const [reason, setReason] = useState('');
  // Asked anew when the rules change.
  const node = { kind: identifier?.kind ?? '', value: identifier?.value ?? '' };
  const { data: g, error, refetch } = useView('GET /api/person', node, { enabled: identifier !== undefined, key: rules.cuts.length });
  const head = (
    <>
      <h1 className="pr-8 text-[1.5rem] leading-tight font-bold">One person and their links</h1>
      <p className="mb-3 text-ink-2">
        Find a person by any identifier. Cut a wrong link here; the cut stays in force whenever persons are recomputed.
      </p>
      <IdentifierFinder small={false} onFound={(i) => go(...places.person(i))} />
    </>
  );
  if (!identifier) return <div className="px-7 py-5">{head}</div>;
  if (error && !g)
    return (
      <div className="px-7 py-5">
        {head}
        <Failed what="This person" error={error} retry={() => void refetch()} />
      </div>
    );
  if (!g) return <Loading what="this person" />;
  const name = (i: number): string => `${g.identifiers[i]!.kind} ${g.identifiers[i]!.value}`;
  const drawn = g.identifiers.length <= MAX_DRAWN;
  const outside = g.identifiers.filter((n) => !n.own);
  const take = async (): Promise<void> => {
    try {
      const taken = await ask('GET /api/person-case', { query: node });
      const id = crypto.randomUUID();
      setCases([...cases, { id, title: `Taken from a person, ${cases.length + 1}`, asks: '', ...taken }], 'A bench case from a person');
      go(...places.benchCase(id));
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const cut = (i: number): void => {
    const l = g.links[i]!;
    const end = (n: number) => ({ kind: g.identifiers[n]!.kind, value: g.identifiers[n]!.value });
    set({ cuts: [...rules.cuts, { a: end(l.a), b: end(l.b), reason: reason.trim() }] }, `Cut between ${name(l.a)} and ${name(l.b)}`, () => {
      // A cut that does not show where it was made looks as if it had failed.
      if (!shown.draft) lookThrough({ ...place.lens, rules: 'draft' });
      toast(`Cut in the draft${shown.draft ? '' : ', whose rules are shown now'}; it is in force when it is published. Undo with Ctrl Z.`);
    });
    setCutting(undefined);
    setReason('');
  };
  return (
    <div className="px-7 py-5">
      {head}
      {g.nobody ? (
        <p className="mt-3 border-l-4 border-caution-fill pl-3">
          {g.nobody === 'shared device'
            ? 'This device is shared: it never links and identifies nobody. Its messages belong to whoever is signed in.'
            : 'This identifier is a placeholder or blocked, so it identifies nobody.'}
        </p>
      ) : null}
      <Button className="mt-3" title="Messages become steps; identifiers are renamed" onClick={() => void take()}>
        Save as a bench case
      </Button>
      {drawn ? (
        <div className="mt-3 overflow-x-auto">
          <PersonGraph
            state={{
              persons: [
                { identifiers: g.identifiers.filter((n) => n.own), messages: [], identifyCalls: [] },
                ...outside.map((n) => ({ identifiers: [n], messages: [], identifyCalls: [] })),
              ],
              links: g.links.map((l) => ({ a: name(l.a), b: name(l.b), refused: l.refused !== undefined })),
            }}
          />
        </div>
      ) : (
        <p className="mt-3 text-ink-2">{count(g.identifiers.length + g.more)} identifiers: too many to draw; the links are listed below.</p>
      )}
      <table className="mt-3 w-full border-collapse">
        <caption className="pb-1 text-left font-bold">Links</caption>
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="font-medium">one</th>
            <th className="font-medium">the other</th>
            <th className="font-medium">first seen together</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {g.links.map((l, i) => (
            <tr key={`${l.a} ${l.b}`} className="border-t border-rule align-top">
              {[l.a, l.b].map((n) => (
                <td key={n} className="py-1 pr-3">
                  <span className="text-ink-2">{g.identifiers[n]!.kind}</span>{' '}
                  <button
                    type="button"
                    className="min-h-[24px] wire break-all hover:text-accent"
                    onClick={() => go(...places.logbook(g.identifiers[n]!))}
                  >
                    {g.identifiers[n]!.value}
                  </button>
                </td>
              ))}
              <td className="py-1 pr-3 whitespace-nowrap" title={instantText(l.firstAt)}>
                {dayText(l.firstAt, timeZone)}
              </td>
              <td className="py-1 text-right">
                {l.refused !== undefined ? (
                  <span className="text-stop">refused: {l.refused}</span>
                ) : cutting === i ? (
                  <OpenForm
                    onClose={() => setCutting(undefined)}
                    className="flex justify-end gap-2"
                    onSubmit={() => {
                      if (reason.trim() !== '') cut(i);
                    }}
                  >
                    <input
                      autoFocus
                      aria-label="Why they are two persons"
                      placeholder="Why they are two persons"
                      value={reason}
                      onChange={(e) => setReason(e.target.value)}
                      className="w-52 border border-ink-2 bg-transparent px-2 placeholder:text-ink-2"
                    />
                    <Button type="submit" className="text-sm" disabled={reason.trim() === ''}>
                      Cut
                    </Button>
                    <Cancel />
                  </OpenForm>
                ) : (
                  <button type="button" className="min-h-[24px] text-accent underline decoration-dotted" onClick={() => setCutting(i)}>
                    Cut …
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {g.history.length > 0 ? (
        <section className="mt-5">
          <h2 className="font-bold">How it became one person</h2>
          <ol>
            {g.history.map((h) => (
              <li key={`${h.a} ${h.b}`} className="flex gap-3 border-t border-rule py-1">
                <span className="w-24 shrink-0 text-ink-2" title={instantText(h.at)}>
                  {dayText(h.at, timeZone)}
                </span>
                <span className="min-w-0 break-words">
                  {name(h.a)} and {name(h.b)}
                </span>
                <span className={`ml-auto shrink-0 ${h.what === 'merged' ? 'text-ink-2' : 'text-stop'}`}>
                  {h.what === 'merged'
                    ? `${plural(h.sides[0], 'identifier')} and ${count(h.sides[1])} merged`
                    : `kept apart: ${h.what === 'cut' ? 'cut by hand' : h.what}`}
                </span>
              </li>
            ))}
          </ol>
        </section>
      ) : null}
      {g.links.length === 0 ? <p className="text-ink-2">No links.</p> : null}
    </div>
  );
};
