/** The searchable list of a choice; loaded when one is opened first. */
import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { CHOICE_BUTTON, type ChoiceProps } from './choice-props';

export const ChoiceList = ({ label, value, placeholder = 'choose', options, wire = false, free, onChoose }: ChoiceProps) => {
  const [open, setOpen] = useState(true);
  const [text, setText] = useState('');
  const choose = (v: string) => {
    setOpen(false);
    setText('');
    onChoose(v);
  };
  const typed = text.trim();
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={`${label}: ${value || 'not chosen'}`} className={CHOICE_BUTTON(value, wire)}>
        {value || placeholder}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={6} className="z-40 w-80 border border-ink bg-paper shadow-[4px_4px_0_var(--rule)]">
          <Command loop>
            <Command.Input
              autoFocus
              aria-label={label}
              placeholder={free ? 'Search, or enter a new name' : 'Search'}
              value={text}
              onValueChange={setText}
              className="w-full border-b border-rule bg-transparent px-3 py-2 outline-none"
            />
            <Command.List aria-label={`${label}, choices`} className="max-h-64 overflow-y-auto py-1">
              {free ? null : <Command.Empty className="px-3 py-2 text-ink-2">No matches.</Command.Empty>}
              {options.map((o) => (
                <Command.Item
                  key={o.value}
                  value={o.value}
                  onSelect={() => choose(o.value)}
                  className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-wash"
                >
                  <span className={wire ? 'wire' : ''}>{o.value}</span>
                  {o.note ? <span className="ml-auto text-sm text-ink-2">{o.note}</span> : null}
                </Command.Item>
              ))}
              {free && typed && !options.some((o) => o.value === typed) ? (
                <Command.Item
                  value={`new ${typed}`}
                  keywords={[typed]}
                  forceMount
                  onSelect={() => choose(typed)}
                  className="cursor-pointer px-3 py-1 data-[selected=true]:bg-wash"
                >
                  {free(typed)}
                </Command.Item>
              ) : null}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};
