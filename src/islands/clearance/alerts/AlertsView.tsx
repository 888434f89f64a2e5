/** Alerts: the inbox, the rules, and what was sent. */
import { Tabs } from 'radix-ui';
import { useState } from 'react';
import { count } from '../../../ui/format';
import { useOpenAlerts } from '../../workplace/queries';
import { DeliveriesTable } from './DeliveriesTable';
import { InboxList } from './InboxList';
import { RulesTable } from './RulesTable';

const TAB =
  'min-h-[30px] border-b-2 border-transparent px-3 font-semibold text-ink-2 data-[state=active]:border-accent data-[state=active]:text-ink';

export const AlertsView = () => {
  const [tab, setTab] = useState('inbox');
  const open = useOpenAlerts().data?.open;
  return (
    <div className="px-7 py-5">
      <h1 className="text-[1.5rem] leading-tight font-bold">Alerts</h1>
      <p className="text-ink-2">What changed that somebody wants to know, whom it is told to, and whether it arrived.</p>
      <Tabs.Root value={tab} onValueChange={setTab} className="mt-3">
        <Tabs.List aria-label="Alerts" className="flex border-b border-rule">
          <Tabs.Trigger value="inbox" className={TAB}>
            Inbox{open ? ` (${count(open)})` : ''}
          </Tabs.Trigger>
          <Tabs.Trigger value="rules" className={TAB}>
            Rules
          </Tabs.Trigger>
          <Tabs.Trigger value="deliveries" className={TAB}>
            Deliveries
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value="inbox">
          <InboxList />
        </Tabs.Content>
        <Tabs.Content value="rules">
          <RulesTable onSent={() => setTab('deliveries')} />
        </Tabs.Content>
        <Tabs.Content value="deliveries">
          <DeliveriesTable />
        </Tabs.Content>
      </Tabs.Root>
    </div>
  );
};
