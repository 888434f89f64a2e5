import { defineMessageCheck } from '../check';

export interface FormerName {
  readonly name: string;
  readonly now: string;
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
  subject: (p: FormerName) => (p.property ? undefined : p.now),
  expected: (p: FormerName) => `\`${p.now}\``,
  received: (p: FormerName) => `\`${p.name}\``,
  message: (p: FormerName) =>
    p.property
      ? `comes with \`${p.name}\`, a former name of \`${p.now}\`; it counts with it`
      : `still arrives under its former name \`${p.name}\`; it counts with it`,
  cause: () => 'A release from before the rename is still in use.',
  mend: (p: FormerName) => `Send it as \`${p.now}\`. No figure here needs fixing.`,
});
