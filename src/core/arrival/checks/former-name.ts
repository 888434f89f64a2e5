import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';
import { refOf, refText, type PropertyRef } from '../../plan/property-path';

export interface FormerName {
  readonly name: PropertyRef;
  readonly now: PropertyRef;
  /** Of a property, rather than of the event. */
  readonly property?: boolean;
}

export const formerName = defineMessageCheck({
  id: 'former-name',
  on: 'name',
  title: 'Former name still in use',
  why: 'It counts with the present name here; other places that the messages go to know only the name that was sent.',
  example: { wrong: '`"name": "Tool Looked At"`, renamed to `Tool Viewed`', right: '`"name": "Tool Viewed"`' },
  severity: 'caution',
  shows: 'name',
  fixer: () => 'source',
  subject: (p: FormerName) => (p.property ? undefined : refText(p.now)),
  expected: (p: FormerName) => `\`${refText(p.now)}\``,
  received: (p: FormerName) => `\`${refText(p.name)}\``,
  message: (p: FormerName) =>
    p.property
      ? `comes with \`${refText(p.name)}\`, a former name of \`${refText(p.now)}\`; it counts with it`
      : `still arrives under its former name \`${refText(p.name)}\`; it counts with it`,
  cause: () => 'A release from before the rename is still in use.',
  fix: (p: FormerName) => `Send it as \`${refText(p.now)}\`. No figure here needs fixing.`,
  compile(plan) {
    const events = entries(plan, 'event').map(([, e]) => e);
    const now = new Map<string, string>();
    // Of several that had the name, the first.
    for (const e of events) for (const name of e.formerNames) if (!now.has(name)) now.set(name, e.name);
    for (const { name } of events) now.delete(name);
    if (now.size === 0) return undefined;
    return (name) => {
      const present = now.get(name);
      return present === undefined ? undefined : { name, now: present };
    };
  },
});

/** The same of a property: both names stand in the same place. */
export const formerProperty = (path: readonly string[], name: string, now: string): FormerName => ({
  name: refOf([...path, name]),
  now: refOf([...path, now]),
  property: true,
});
