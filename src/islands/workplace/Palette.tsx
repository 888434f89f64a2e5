/** The palette: finds any event, property, question or action. */
import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useState } from 'react';
import { blank } from '../../core/plan/defaults';
import { SHEETS } from '../../core/plan/fields/index';
import { entries, type Kind, type Plan } from '../../core/plan/plan';
import { DialogCard } from '../../ui/DialogCard';
import { identifiersLike } from '../arrivals/IdentifierFinder';
import { VIEWS } from '../arrivals/views';
import { usePlan, useWorkplace } from './context';
import { foundIn } from './found';
import { places, STATIONS, type StationId } from './place';
import { refOfProperty, refText } from '../../core/plan/property-path';

const ITEM = 'data-[selected=true]:bg-wash flex cursor-pointer items-baseline gap-3 px-4 py-1.5';
const GROUP =
  '[&_[cmdk-group-heading]]:text-ink-2 [&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-sm';

/** So many of a kind are shown; more are found by writing on. */
const MAX_SHOWN = 24;

/** Entities whose label holds all words of the search, those that begin with it first. */
const found = <K extends Kind>(
  plan: Plan,
  kind: K,
  search: string,
  labelOf: (body: ReturnType<typeof entries<K>>[number][1]) => string,
) => {
  return foundIn(entries(plan, kind), search, (e) => labelOf(e[1]), MAX_SHOWN);
};

const Entries = ({ search, onGo }: { search: string; onGo: (station: StationId, item?: string) => void }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const needle = search.trim().toLowerCase();
  const matches = (text: string): boolean => text.toLowerCase().includes(needle);
  const actions = [
    {
      text: 'New question',
      run: () => {
        const id = crypto.randomUUID();
        store.apply(
          [{ op: 'create', kind: 'question', id, body: blank('question', { order: Object.keys(plan.question).length + 1 }) }],
          'New question',
        );
        onGo(...places.question(id));
      },
    },
    { text: 'Undo the last change', run: () => (store.undo(), onGo('plan')) },
    { text: 'Redo', run: () => (store.redo(), onGo('plan')) },
    { text: 'See issues in the plan', run: () => onGo(...places.plan('findings')) },
    { text: 'Compare versions', run: () => onGo(...places.plan('versions')) },
    { text: 'See who changed what', run: () => onGo(...places.plan('activity')) },
    { text: 'Review proposals', run: () => onGo(...places.plan('proposals')) },
    { text: 'Import or export files', run: () => onGo(...places.plan('files')) },
    { text: 'Read the plan', run: () => onGo(...places.plan('read')) },
    { text: 'See shared properties', run: () => onGo(...places.plan('suggestions')) },
    { text: 'See the limits', run: () => onGo(...places.plan('limits')) },
    ...SHEETS.map((s) => ({ text: `Open the sheet of the plan: ${s.title}`, run: () => onGo(...places.plan(s.id)) })),
    ...VIEWS.map((v) => ({ text: `See what arrived: ${v.title}`, run: () => onGo(...places.arrivals(v.id)) })),
    { text: 'See the coverage of the questions', run: () => onGo(...places.coverage()) },
  ].filter((a) => matches(a.text));
  return (
    <>
      <Command.Group heading="Stations" className={GROUP}>
        {STATIONS.map((s, i) => ({ ...s, key: i + 1 }))
          .filter((s) => matches(`go to ${s.title}`))
          .map((s) => (
            <Command.Item key={s.id} value={`go to ${s.title}`} onSelect={() => onGo(s.id)} className={ITEM}>
              Go to {s.title} <kbd className="ml-auto text-sm text-ink-2">{s.key}</kbd>
            </Command.Item>
          ))}
      </Command.Group>
      <Command.Group heading="Actions" className={GROUP}>
        {actions.map((a) => (
          <Command.Item key={a.text} value={`do ${a.text}`} onSelect={a.run} className={ITEM}>
            {a.text}
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Questions" className={GROUP}>
        {found(plan, 'question', search, (q) => q.text).map(([id, q]) => (
          <Command.Item key={id} value={`question ${q.text} ${id}`} onSelect={() => onGo(...places.question(id))} className={ITEM}>
            {q.text || 'Not written yet'}
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Events" className={GROUP}>
        {found(plan, 'event', search, (e) => e.name).map(([id, e]) => (
          <Command.Item key={id} value={`event ${e.name} ${id}`} onSelect={() => onGo(...places.row('event', id))} className={ITEM}>
            <span className="wire">{e.name}</span>
            <span className="ml-auto text-sm text-ink-2">{e.flow}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Properties" className={GROUP}>
        {found(plan, 'property', search, (p) => refText(refOfProperty(p))).map(([id, p]) => (
          <Command.Item
            key={id}
            value={`property ${refText(refOfProperty(p))} ${id}`}
            onSelect={() => onGo(...places.row('property', id))}
            className={ITEM}
          >
            <span className="wire">{refText(refOfProperty(p))}</span>
            <span className="ml-auto text-sm text-ink-2">{p.type}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="User properties" className={GROUP}>
        {found(plan, 'userProperty', search, (u) => u.name).map(([id, u]) => (
          <Command.Item
            key={id}
            value={`user property ${u.name} ${id}`}
            onSelect={() => onGo(...places.row('userProperty', id))}
            className={ITEM}
          >
            <span className="wire">{u.name}</span>
            <span className="ml-auto text-sm text-ink-2">{u.registered ? 'registered' : ''}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Sources" className={GROUP}>
        {found(plan, 'source', search, (s) => s.name).map(([id, s]) => (
          <Command.Item key={id} value={`source ${s.name} ${id}`} onSelect={() => onGo(...places.row('source', id))} className={ITEM}>
            {s.name}
            <span className="ml-auto text-sm text-ink-2">{s.kind}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Persons search={search} onGo={onGo} />
    </>
  );
};

/** An identifier has at least so many letters before persons are looked for. */
const MIN_OF_PERSON = 3;

/** Persons by any identifier, or a part of one. */
const Persons = ({ search, onGo }: { search: string; onGo: (station: StationId, item?: string) => void }) => {
  const asked = search.trim();
  const { data } = useQuery({ ...identifiersLike(asked), enabled: asked.length >= MIN_OF_PERSON, placeholderData: (before) => before });
  return (
    <Command.Group heading="Persons" className={GROUP}>
      {(asked.length >= MIN_OF_PERSON ? (data ?? []) : []).map((i) => (
        <Command.Item
          key={`${i.kind} ${i.value}`}
          value={`person ${i.kind} ${i.value}`}
          onSelect={() => onGo(...places.logbook(i))}
          className={ITEM}
        >
          <span className="truncate wire">{i.value}</span>
          <span className="ml-auto text-sm text-ink-2">{i.kind}</span>
        </Command.Item>
      ))}
    </Command.Group>
  );
};

export const Palette = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => {
  const { go } = useWorkplace();
  const [search, setSearch] = useState('');
  return (
    <DialogCard title="Find or do anything" width="w-[560px]" bare open={open} onOpenChange={onOpenChange}>
      <Command loop shouldFilter={false} label="Find or do anything">
        <Command.Input
          autoFocus
          value={search}
          onValueChange={setSearch}
          placeholder="An event, a property, a question, a person, a station …"
          className="w-full border-b border-rule bg-transparent px-4 py-3 text-lg outline-none"
        />
        <Command.List className="max-h-[52vh] overflow-y-auto pb-2">
          <Command.Empty className="px-4 py-4 text-ink-2">No matches.</Command.Empty>
          <Entries
            search={search}
            onGo={(station, item) => {
              onOpenChange(false);
              setSearch('');
              go(station, item);
            }}
          />
        </Command.List>
      </Command>
    </DialogCard>
  );
};
