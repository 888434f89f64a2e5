import { defineMessageCheck } from '../check';

export interface FormerName {
  readonly name: string;
  readonly now: string;
}

export const formerName = defineMessageCheck({
  id: 'former-name',
  on: 'message',
  title: 'Former name still in use',
  why: 'Figures are built on the new name, so what comes under the old one is not counted.',
  severity: 'caution',
  mender: () => 'source',
  expected: (p: FormerName) => `\`${p.now}\``,
  received: (p: FormerName) => `\`${p.name}\``,
  message: (p: FormerName) => `is a former name of \`${p.now}\` and still arrives`,
  cause: () => 'A release from before the rename is still in use.',
  mend: (p: FormerName) => `Send it as \`${p.now}\`; until then, count both.`,
});
