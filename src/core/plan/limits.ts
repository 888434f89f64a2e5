/** The limits profile against what the plan uses. */
import { entries, isLive, settingsOf, type Plan } from './plan';

export interface LimitUse {
  readonly key: 'events' | 'userProperties' | 'conversions';
  readonly what: string;
  readonly used: number;
  readonly limit: number;
}

/** Share of a limit from which on the head room is a finding. */
export const WARN_FROM = 0.8;

/** Each limit with how much of it is used.
 *  A user property counts from its registration on, retired ones too, since registering cannot be undone; temporary ones never do.
 */
export const limitsOf = (plan: Plan): LimitUse[] => {
  const { limits } = settingsOf(plan);
  const events = entries(plan, 'event').filter(([, e]) => isLive(e));
  // What is defined is an event where the data goes, too.
  const defined = entries(plan, 'definition').flatMap(([, d]) => (d.retired || d.name === '' ? [] : [d]));
  return [
    {
      key: 'events',
      what: 'event names',
      used: new Set([...events.map(([, e]) => e.name), ...defined.map((d) => d.name)]).size,
      limit: limits.events,
    },
    {
      key: 'userProperties',
      what: 'registered user properties',
      used: entries(plan, 'userProperty').filter(([, u]) => u.registered && !u.temporary).length,
      limit: limits.userProperties,
    },
    {
      key: 'conversions',
      what: 'conversion events',
      used: events.filter(([, e]) => e.conversion).length + defined.filter((d) => d.conversion).length,
      limit: limits.conversions,
    },
  ];
};

/** Why one more user property cannot be registered; `undefined` when it can. */
export const registrationRefused = (plan: Plan): string | undefined => {
  const use = limitsOf(plan).find((u) => u.key === 'userProperties')!;
  return use.used >= use.limit
    ? `${use.used} user properties are registered and the limits profile allows ${use.limit}; none can be given back.`
    : undefined;
};
