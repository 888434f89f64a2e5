import { defineMessageCheck } from '../check';

export interface IdentifierAsProperty {
  readonly property: string;
  readonly kind: string;
}

export const identifierAsProperty = defineMessageCheck({
  id: 'identifier-as-property',
  on: 'message',
  title: 'Identifier sent as a property',
  why: 'An identifier among the properties does not identify: the message stays with whoever its other identifiers belong to.',
  severity: 'caution',
  shows: 'ids',
  mender: () => 'source',
  expected: (p: IdentifierAsProperty) => `the value in \`ids.${p.kind}\``,
  received: (p: IdentifierAsProperty) => `it in \`properties.${p.property}\``,
  message: (p: IdentifierAsProperty) => `carries \`${p.property}\` among its properties, but no ${p.kind} ID`,
  cause: () => 'The call puts all that it knows into the properties.',
  mend: (p: IdentifierAsProperty) => `Move the value to \`ids.${p.kind}\`.`,
});
