import { defineMessageCheck, shown } from '../check';

export interface SwappedUserProperty {
  readonly sent: string;
  readonly value: string;
  readonly meant: string;
}

export const swappedUserProperty = defineMessageCheck({
  id: 'swapped-user-property',
  on: 'message',
  title: 'Name and value swapped',
  why: 'The property stays empty, and each of its values becomes a property of its own.',
  severity: 'stop',
  shows: 'user properties',
  mender: () => 'source',
  expected: (p: SwappedUserProperty) => `\`${p.meant}\` = “${p.sent}”`,
  received: (p: SwappedUserProperty) => `\`${p.sent}\` = ${shown(p.value)}`,
  message: (p: SwappedUserProperty) =>
    `set the user property \`${p.sent}\` to ${shown(p.value)}: name and value of \`${p.meant}\` are swapped`,
  cause: () => 'The two arguments of the call stand in the wrong order.',
  mend: (p: SwappedUserProperty) => `Set \`${p.meant}\` to “${p.sent}”.`,
});
