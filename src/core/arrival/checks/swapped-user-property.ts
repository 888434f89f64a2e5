import { swappedUserProperty as meantBy } from '../../plan/swapped';
import { defineMessageCheck, shown } from '../check';
import { masked } from '../personal-data';

export interface SwappedUserProperty {
  readonly sent: string;
  readonly value: string;
  readonly meant: string;
}

export const swappedUserProperty = defineMessageCheck({
  id: 'swapped-user-property',
  on: 'unplanned user property',
  title: 'Name and value swapped',
  why: 'The property stays empty, and each of its values becomes a property of its own.',
  example: { wrong: '`"user_properties": {"gold": "plan_tier"}`', right: '`"user_properties": {"plan_tier": "gold"}`' },
  severity: 'stop',
  shows: 'user properties',
  fixer: () => 'source',
  expected: (p: SwappedUserProperty) => `\`${p.meant}\` = “${p.sent}”`,
  received: (p: SwappedUserProperty) => `\`${p.sent}\` = ${shown(p.value)}`,
  message: (p: SwappedUserProperty) =>
    `set the user property \`${p.sent}\` to ${shown(p.value)}: name and value of \`${p.meant}\` are swapped`,
  cause: () => 'The two arguments of the call are in the wrong order.',
  fix: (p: SwappedUserProperty) => `Set \`${p.meant}\` to “${p.sent}”.`,
  place: (p: SwappedUserProperty) => ['user_properties', p.meant],
  compile: (plan) => (sent, value) => {
    const meant = typeof sent === 'string' ? meantBy(plan, sent, value) : undefined;
    if (typeof sent !== 'string' || meant === undefined) return undefined;
    return { sent, value: masked(String(value).slice(0, 60)), meant: plan.userProperty[meant]!.name };
  },
});
