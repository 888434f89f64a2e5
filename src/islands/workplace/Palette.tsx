/** The palette: finds any event, property, question or action. */
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { blank } from '../../core/plan/defaults';
import { entries } from '../../core/plan/plan';
import { STATIONS, usePlan, useWorkplace, type StationId } from './context';

const ITEM = 'data-[selected=true]:bg-wash flex cursor-pointer items-baseline gap-3 px-4 py-1.5';
const GROUP =
  '[&_[cmdk-group-heading]]:text-ink-2 [&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-sm';

const Entries = ({ onGo }: { onGo: (station: StationId, item?: string) => void }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const actions = [
    {
      text: 'New question',
      run: () => {
        const id = crypto.randomUUID();
        store.apply(
          [{ op: 'create', kind: 'question', id, body: blank('question', { order: Object.keys(plan.question).length + 1 }) }],
          'New question',
        );
        onGo('questions', id);
      },
    },
    { text: 'Undo the last change', run: () => void (store.undo(), onGo('plan')) },
    { text: 'Redo', run: () => void (store.redo(), onGo('plan')) },
    { text: 'See all findings of the plan', run: () => onGo('plan', 'findings') },
    { text: 'Compare versions and changes', run: () => onGo('plan', 'history') },
  ];
  return (
    <>
      <Command.Group heading="Stations" className={GROUP}>
        {STATIONS.map((s, i) => (
          <Command.Item key={s.id} value={`go to ${s.title}`} onSelect={() => onGo(s.id)} className={ITEM}>
            Go to {s.title} <kbd className="ml-auto text-sm text-ink-2">{i + 1}</kbd>
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
        {entries(plan, 'question').map(([id, q]) => (
          <Command.Item key={id} value={`question ${q.text} ${id}`} onSelect={() => onGo('questions', id)} className={ITEM}>
            {q.text}
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Events" className={GROUP}>
        {entries(plan, 'event').map(([id, e]) => (
          <Command.Item key={id} value={`event ${e.name} ${id}`} onSelect={() => onGo('plan', `event:${id}`)} className={ITEM}>
            <span className="wire">{e.name}</span>
            <span className="ml-auto text-sm text-ink-2">{e.flow}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Properties" className={GROUP}>
        {entries(plan, 'property').map(([id, p]) => (
          <Command.Item key={id} value={`property ${p.name} ${id}`} onSelect={() => onGo('plan', `property:${id}`)} className={ITEM}>
            <span className="wire">{p.name}</span>
            <span className="ml-auto text-sm text-ink-2">{p.type}</span>
          </Command.Item>
        ))}
      </Command.Group>
    </>
  );
};

export const Palette = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => {
  const { go } = useWorkplace();
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="bg-black/30 fixed inset-0 z-40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[560px] max-w-[92vw] -translate-x-1/2 border border-ink bg-paper shadow-[6px_6px_0_var(--rule)]"
        >
          <Dialog.Title className="sr-only">Find or do anything</Dialog.Title>
          <Command loop label="Find or do anything">
            <Command.Input
              autoFocus
              placeholder="An event, a property, a question, a station …"
              className="w-full border-b border-rule bg-transparent px-4 py-3 text-lg outline-none"
            />
            <Command.List className="max-h-[52vh] overflow-y-auto pb-2">
              <Command.Empty className="px-4 py-4 text-ink-2">Nothing of that name.</Command.Empty>
              <Entries
                onGo={(station, item) => {
                  onOpenChange(false);
                  go(station, item);
                }}
              />
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
