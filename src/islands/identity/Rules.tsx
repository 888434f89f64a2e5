/** The identity rules of the draft: what links, and under which guards. */
import { useCommit } from '../../ui/use-commit';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { setField } from '../../core/plan/edit';
import { entries, settingsOf, SETTINGS_ID, type IdentityRules } from '../../core/plan/plan';
import { MarginPart } from '../../ui/Frame';
import { TextField } from '../../ui/TextField';
import { usePlan, useWorkplace } from '../workplace/context';

export const useRules = (): readonly [IdentityRules, (next: Partial<IdentityRules>, label: string, saved?: () => void) => void] => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const rules = settingsOf(plan).identity;
  return [
    rules,
    (next, label, saved) => {
      const edit = setField(plan, 'settings', SETTINGS_ID, 'identity', { ...rules, ...next });
      if (edit) store.apply([edit], label, saved);
    },
  ];
};

const SELECT = 'min-w-0 flex-1 border border-rule bg-paper text-sm';

const listOf = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((s) => s.trim())
      .filter(Boolean),
  ),
];

const Links = () => {
  const plan = usePlan();
  const [rules, set] = useRules();
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k.name);
  const [a, setA] = useState('');
  const [b, setB] = useState('');
  const known = rules.links.some(([x, y]) => (x === a && y === b) || (x === b && y === a));
  return (
    <MarginPart title="Rules in the draft">
      <p className="mb-1">A message that carries both may link:</p>
      {rules.links.map(([x, y]) => (
        <p key={`${x} ${y}`} className="flex items-center border-b border-dotted border-rule py-0.5 wire">
          {x} – {y}
          <button
            type="button"
            aria-label={`Remove the link of ${x} and ${y}`}
            className="ml-auto p-1.5 hover:text-accent"
            onClick={() => set({ links: rules.links.filter(([p, q]) => p !== x || q !== y) }, `Link rule ${x} – ${y} removed`)}
          >
            <X size={13} />
          </button>
        </p>
      ))}
      {rules.links.length === 0 ? <p className="text-caution">None: each identifier is one person.</p> : null}
      <div className="mt-1.5 flex items-center gap-1">
        {(
          [
            [a, setA, 'One kind'],
            [b, setB, 'The other kind'],
          ] as const
        ).map(([value, setValue, label]) => (
          <select key={label} aria-label={label} value={value} onChange={(e) => setValue(e.target.value)} className={SELECT}>
            <option value="">kind</option>
            {kinds.map((k) => (
              <option key={k}>{k}</option>
            ))}
          </select>
        ))}
        <button
          type="button"
          aria-label="Add link rule"
          disabled={a === '' || b === '' || a === b || known}
          className="border border-accent p-1.5 text-accent disabled:opacity-40"
          onClick={() => {
            set({ links: [...rules.links, [a, b]] }, `Link rule ${a} – ${b}`);
            setA('');
            setB('');
          }}
        >
          <Plus size={13} />
        </button>
      </div>
    </MarginPart>
  );
};

const NumberRow = ({ label, value, onSave }: { label: string; value: number; onSave: (n: number) => void }) => {
  const { problem, field } = useCommit(String(value), (text) => {
    const n = Number(text);
    if (text.trim() === '' || !(n >= 0)) return `“${text}” is not a number from 0 on.`;
    onSave(n);
    return undefined;
  });
  return (
    <label className="block py-1">
      <span className="flex items-center gap-2">
        <span className="min-w-0 flex-1">{label}</span>
        <input inputMode="decimal" {...field} className="w-16 border border-rule bg-paper px-1 text-right" />
      </span>
      {problem === undefined ? null : (
        <span role="alert" className="block text-sm text-stop">
          {problem}
        </span>
      )}
    </label>
  );
};

export const Rules = () => {
  const [rules, set] = useRules();
  return (
    <>
      <Links />
      <MarginPart title="Guards">
        {(
          [
            ['Follow links', rules.linking, (on: boolean) => set({ linking: on }, 'Linking')],
            [
              'One user ID per person; a second one splits instead of merging',
              rules.maxUserIds === 1,
              (on: boolean) => set({ maxUserIds: on ? 1 : 0 }, 'Guard: one user ID'),
            ],
            ['A placeholder never links', rules.placeholderGuard, (on: boolean) => set({ placeholderGuard: on }, 'Guard: placeholders')],
          ] as const
        ).map(([text, on, change]) => (
          <label key={text} className="flex items-start gap-2 py-1">
            <input type="checkbox" className="mt-1 accent-accent" checked={on} onChange={(e) => change(e.target.checked)} />
            {text}
          </label>
        ))}
        <NumberRow
          label="Shared device: more user IDs than (0: never)"
          value={rules.sharedDeviceUsers}
          onSave={(n) => set({ sharedDeviceUsers: Math.round(n) }, 'Guard: shared devices')}
        />
        <p className="pt-1">Sign-out events</p>
        <TextField
          label="Sign-out events"
          value={rules.signOutEvents.join(', ')}
          placeholder="names separated by commas"
          onSave={(t) => set({ signOutEvents: listOf(t) }, 'Sign-out events')}
        />
        <p className="pt-1">Blocked identifiers</p>
        <TextField
          label="Blocked identifiers"
          value={rules.blocked.join(', ')}
          placeholder="none"
          onSave={(t) => set({ blocked: listOf(t) }, 'Blocked identifiers')}
        />
        <NumberRow
          label="Price per thousand persons a month"
          value={rules.pricePerThousand}
          onSave={(n) => set({ pricePerThousand: n }, 'Price of tracked persons')}
        />
      </MarginPart>
      {rules.cuts.length > 0 ? (
        <MarginPart title="Cuts">
          {rules.cuts.map((c, i) => (
            <p key={i} className="border-b border-dotted border-rule py-1 text-sm">
              <span className="wire break-all">
                {c.a.value} – {c.b.value}
              </span>
              <span className="block text-ink-2">{c.reason}</span>
              <button
                type="button"
                className="min-h-[24px] text-accent underline decoration-dotted"
                onClick={() => set({ cuts: rules.cuts.filter((x) => x !== c) }, 'Cut undone')}
              >
                Undo cut
              </button>
            </p>
          ))}
        </MarginPart>
      ) : null}
      <p className="text-sm text-ink-2">The result does not depend on the order of arrival. Linking applies backwards.</p>
    </>
  );
};
