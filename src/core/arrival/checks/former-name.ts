import { defineMessageCheck } from '../check';
import { refText, type PropertyRef } from '../../plan/property-path';

export interface FormerName {
  readonly name: PropertyRef;
  readonly now: PropertyRef;
  /** Of a property, rather than of the event. */
  readonly property?: boolean;
}

export const formerName = defineMessageCheck({
  id: 'former-name',
  on: 'message',
  title: 'Former name still in use',
  why: 'It counts with the present name here; other places that the messages go to know only the name that was sent.',
  severity: 'caution',
  shows: 'name',
  mender: () => 'source',
  subject: (p: FormerName) => (p.property ? undefined : refText(p.now)),
  expected: (p: FormerName) => `\`${refText(p.now)}\``,
  received: (p: FormerName) => `\`${refText(p.name)}\``,
  message: (p: FormerName) =>
    p.property
      ? `comes with \`${refText(p.name)}\`, a former name of \`${refText(p.now)}\`; it counts with it`
      : `still arrives under its former name \`${refText(p.name)}\`; it counts with it`,
  cause: () => 'A release from before the rename is still in use.',
  mend: (p: FormerName) => `Send it as \`${refText(p.now)}\`. No figure here needs fixing.`,
});
