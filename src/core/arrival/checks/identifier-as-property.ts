import { foldName } from '../../naming/likeness';
import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';

export interface IdentifierAsProperty {
  readonly property: string;
  readonly kind: string;
}

export const identifierAsProperty = defineMessageCheck({
  id: 'identifier-as-property',
  on: 'unplanned property',
  title: 'Identifier sent as a property',
  why: 'An identifier among the properties does not identify: the message stays with whoever its other identifiers belong to.',
  example: { wrong: '`"properties": {"user_id": "m-7"}` without `ids.user`', right: '`"ids": {"user": "m-7"}`' },
  severity: 'caution',
  shows: 'ids',
  fixer: () => 'source',
  expected: (p: IdentifierAsProperty) => `the value in \`ids.${p.kind}\``,
  received: (p: IdentifierAsProperty) => `it in \`properties.${p.property}\``,
  message: (p: IdentifierAsProperty) => `carries \`${p.property}\` among its properties, but no ${p.kind} ID`,
  cause: () => 'The call puts all that it knows into the properties.',
  fix: (p: IdentifierAsProperty) => `Move the value to \`ids.${p.kind}\`.`,
  excusedBy: (p: IdentifierAsProperty) => p.kind,
  compile(plan) {
    const kindOf = new Map(entries(plan, 'identifierKind').map(([, k]) => [foldName(`${k.name} id`), k.name]));
    return (property) => {
      // It is among the names of the message itself that an identifier may be by mistake.
      const kind = typeof property === 'string' ? kindOf.get(foldName(property)) : undefined;
      return kind === undefined ? undefined : { property: property as string, kind };
    };
  },
});
