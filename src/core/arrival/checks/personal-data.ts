import type { Property } from '../../plan/plan';
import { defineValueCheck } from '../check';
import { personalDataIn, type PersonalData } from '../personal-data';

export interface PersonalDataFound {
  readonly property: string;
  readonly kind: PersonalData;
}

export const personalData = defineValueCheck({
  id: 'personal-data',
  on: 'value',
  title: 'Personal data where none is allowed',
  why: 'What has once arrived is copied on; it must be erased everywhere, and it was never asked for.',
  severity: 'stop',
  mender: () => 'source',
  expected: () => 'text without personal data',
  received: (p: PersonalDataFound) => aOrAn(p.kind),
  // The value itself is left out of the finding: a finding is read by more people than the message.
  message: (p: PersonalDataFound) => `came with ${aOrAn(p.kind)} in \`${p.property}\``,
  cause: () => 'People type it into a free text, or the source sends a field that it should not.',
  mend: (p: PersonalDataFound) => `Cut it out before sending, or stop sending \`${p.property}\`; then erase what arrived.`,
  compile({ name, type, allowed, personalData: own }: Property) {
    if (type !== 'string' || allowed.length > 0 || own === 'personal' || own === 'sensitive') return undefined;
    return (v): PersonalDataFound | undefined => {
      const kind = typeof v === 'string' ? personalDataIn(v) : undefined;
      return kind === undefined ? undefined : { property: name, kind };
    };
  },
});

export const aOrAn = (words: string): string => `${/^[aeiou]/.test(words) ? 'an' : 'a'} ${words}`;
