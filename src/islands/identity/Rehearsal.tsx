/** The bench: a case step by step, those that ship and the workspace's own. */
import { ChevronLeft, ChevronRight, Copy, Pencil, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { benchNames } from '../../core/identity/bench-names';
import { benchCases } from '../../core/identity/cases';
import { failing, tryCases } from '../../core/identity/own-cases';
import { rehearse } from '../../core/identity/rehearsal';
import { settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { usePlan } from '../workplace/context';
import { CaseEditor } from './CaseEditor';
import { PersonGraph } from './PersonGraph';
import { useOwnCases } from './use-cases';

/** `chosen`: one of the workspace's own cases, opened from elsewhere. */
export const Rehearsal = ({ chosen }: { chosen: string | undefined }) => {
  const plan = usePlan();
  const rules = settingsOf(plan).identity;
  const [own, setOwn] = useOwnCases();
  const shipped = useMemo(() => benchCases(benchNames(plan), rules.signOutEvents[0]), [plan, rules.signOutEvents]);
  const cases = [...shipped, ...own];
  const [picked, setCaseId] = useState(chosen ?? 'four');
  const caseId = cases.some((c) => c.id === picked) ? picked : 'four';
  const isOwn = own.some((c) => c.id === caseId);
  const [editing, setEditing] = useState(false);
  const [identify, setIdentify] = useState(false);
  const [linking, setLinking] = useState(rules.linking);
  const shown = cases.find((c) => c.id === (caseId === 'four' && identify ? 'four-identified' : caseId))!;
  const { steps } = shown;
  const [at, setAt] = useState(steps.length);
  const upTo = Math.min(at, steps.length);
  const state = useMemo(() => rehearse(steps, upTo, { ...rules, linking }), [steps, upTo, rules, linking]);
  const onKeyDown = (e: React.KeyboardEvent) => {
    if (e.key === 'ArrowRight' || e.key === 'ArrowDown') setAt(Math.min(steps.length, upTo + 1));
    else if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') setAt(Math.max(0, upTo - 1));
    else return;
    e.preventDefault();
  };
  const full = upTo === steps.length;
  // Steps 2 and 3 are the start and the completion; they convert when they belong to one person.
  const isFour = caseId === 'four';
  const results = tryCases(own, rules);
  const copy = () => {
    const id = crypto.randomUUID();
    setOwn([...own, { ...shown, id, title: `${shown.title}, own`, persons: state.persons.length }], 'A bench case');
    setCaseId(id);
    setEditing(true);
    setAt(99);
  };
  const sameWhoStarted = state.persons.some((p) => p.messages.includes(1) && p.messages.includes(2));
  return (
    <div className="px-7 py-5">
      <div className="flex items-center gap-4 pr-8">
        <h1 className="text-[1.5rem] leading-tight font-bold">{isFour ? 'The four-message case' : shown.title}</h1>
        <select
          aria-label="Case"
          value={caseId}
          onChange={(e) => {
            setCaseId(e.target.value);
            setAt(99);
          }}
          className="ml-auto border border-rule bg-paper px-2 py-1"
        >
          {shipped
            .filter((c) => c.id !== 'four-identified')
            .map((c) => (
              <option key={c.id} value={c.id}>
                {c.title}
              </option>
            ))}
          {own.length > 0 ? (
            <optgroup label="Own cases">
              {own.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.title}
                </option>
              ))}
            </optgroup>
          ) : null}
        </select>
        {isOwn ? (
          <>
            <Button aria-pressed={editing} onClick={() => setEditing(!editing)}>
              <Pencil size={14} /> {editing ? 'Done' : 'Edit'}
            </Button>
            <Button
              aria-label="Delete this case"
              title="Delete this case; Ctrl Z brings it back"
              onClick={() =>
                setOwn(
                  own.filter((c) => c.id !== caseId),
                  'Bench case deleted',
                )
              }
            >
              <Trash2 size={14} />
            </Button>
          </>
        ) : (
          <Button title="Create your own case from this one" onClick={copy}>
            <Copy size={14} /> Copy as own case
          </Button>
        )}
      </div>
      <p className="mt-1 max-w-[640px] text-ink-2">{shown.asks} How many persons is that?</p>
      {isOwn && editing ? (
        <CaseEditor
          key={caseId}
          own={shown}
          change={(next, label) =>
            setOwn(
              own.map((c) => (c.id === next.id ? next : c)),
              label,
            )
          }
        />
      ) : null}
      <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
        {isFour ? (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-accent"
              checked={identify}
              onChange={(e) => {
                setIdentify(e.target.checked);
                setAt(e.target.checked ? 5 : 4);
              }}
            />
            The client identifies after the sign-up
          </label>
        ) : null}
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-accent" checked={linking} onChange={(e) => setLinking(e.target.checked)} /> Links are
          followed
        </label>
        <span className="ml-auto flex items-center gap-1">
          <Button aria-label="Previous step" disabled={upTo === 0} onClick={() => setAt(upTo - 1)}>
            <ChevronLeft size={15} />
          </Button>
          <span className="w-24 text-center figures">
            step {upTo} of {steps.length}
          </span>
          <Button aria-label="Next step" disabled={full} onClick={() => setAt(upTo + 1)}>
            <ChevronRight size={15} />
          </Button>
        </span>
      </div>
      {own.length > 0 ? (
        <p className="mt-2 text-sm text-ink-2">
          Own cases under the draft’s rules: {results.length - failing(results).length} of {results.length} pass.
          {failing(results).map((r) => (
            <button
              key={r.id}
              type="button"
              className="ml-2 min-h-[24px] text-stop underline decoration-dotted"
              onClick={() => {
                setCaseId(r.id);
                setAt(99);
              }}
            >
              {r.title}: {r.found}, not {r.expected}
            </button>
          ))}
        </p>
      ) : null}
      <div className={`mt-4 grid gap-6 ${isOwn && editing ? '' : 'grid-cols-[290px_1fr]'}`}>
        <ol
          role="listbox"
          aria-label="Steps"
          tabIndex={0}
          aria-activedescendant={upTo > 0 ? `step-${upTo}` : undefined}
          onKeyDown={onKeyDown}
          className={`border-t border-rule ${isOwn && editing ? 'hidden' : ''}`}
        >
          {steps.map((s, i) => {
            const person = state.persons.findIndex((p) => p.messages.includes(i) || p.identifyCalls.includes(i));
            return (
              // The list itself takes the keys, and says which step is meant.
              // eslint-disable-next-line jsx-a11y/click-events-have-key-events
              <li
                key={`${i} ${s.title}`}
                id={`step-${i + 1}`}
                role="option"
                aria-selected={i + 1 === upTo}
                onClick={() => setAt(i + 1)}
                className={`cursor-pointer border-b border-rule px-2 py-1.5 ${i + 1 === upTo ? 'bg-wash' : ''} ${i >= upTo ? 'text-ink-2' : ''}`}
              >
                <span className="flex gap-2">
                  <span className="w-4 text-ink-2 figures">{i + 1}</span>
                  <span className="font-medium">{s.title}</span>
                  <span className="ml-auto text-sm text-ink-2">{s.source}</span>
                </span>
                <span className="block pl-6 wire">{s.kind === 'identify' ? 'identify call' : s.name}</span>
                <span className="flex pl-6 text-sm text-ink-2">
                  <span className="wire">
                    {Object.entries(s.ids)
                      .map(([k, v]) => `${k} ${v}`)
                      .join(' + ')}
                  </span>
                  {person < 0 && i < upTo ? <span className="ml-auto shrink-0">nobody’s</span> : null}
                  {person >= 0 ? <b className="ml-auto shrink-0 whitespace-nowrap text-accent">person {person + 1}</b> : null}
                </span>
              </li>
            );
          })}
        </ol>
        <div>
          <p aria-live="polite" className="mb-1 text-lg font-bold" data-testid="rehearsal-persons">
            {plural(state.persons.length, 'person')}
          </p>
          <PersonGraph state={state} />
          <table className="mt-2 w-full">
            <thead>
              <tr className="text-left text-sm text-ink-2">
                <th className="font-medium">person</th>
                <th className="font-medium">identifiers</th>
                <th className="text-right font-medium">messages</th>
                <th className="text-right font-medium">identify calls</th>
              </tr>
            </thead>
            <tbody>
              {state.persons.map((p, i) => (
                <tr key={i} className="border-t border-rule">
                  <th className="py-1 text-left font-semibold">{i + 1}</th>
                  <td className="figures">{p.identifiers.length}</td>
                  <td className="text-right figures">{p.messages.length}</td>
                  <td className="text-right figures">{p.identifyCalls.length}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {full && !isFour ? (
            <p className={`mt-3 border-l-4 pl-3 ${state.persons.length === shown.persons ? 'border-accent' : 'border-caution-fill'}`}>
              {isOwn
                ? state.persons.length === shown.persons
                  ? `${plural(shown.persons, 'person')}, as expected.`
                  : `Expected ${plural(shown.persons, 'person')}: either a rule or the case is wrong.`
                : state.persons.length === shown.persons
                  ? `${plural(shown.persons, 'person')}, the same as under the default rules.`
                  : `Under the default rules it would be ${plural(shown.persons, 'person')}; the rules of the draft differ.`}
            </p>
          ) : null}
          {full && isFour ? (
            <p className="mt-3 border-l-4 border-accent pl-3">
              {sameWhoStarted
                ? 'One person: who started is who completed, and “started → completed” counts 1 of 1.'
                : 'Two persons: who started never completed, and “started → completed” counts 0 of 1, although nothing was lost.'}
            </p>
          ) : null}
        </div>
      </div>
    </div>
  );
};
