/** Which checks on a message a JSON Schema of its event can express. */

/** Codes of the checks that the schema of an event does not carry, since they go beyond what a schema can say of one event. */
const BEYOND: ReadonlySet<string> = new Set([
  'empty-value',
  'personal-data',
  'unplanned-property',
  'former-name',
  'no-identifier',
  'malformed-identifier',
  'personal-identifier',
  'identifier-as-property',
  'swapped-user-property',
  'unplanned-user-property',
]);
export const schemaCarries = (code: string): boolean => !BEYOND.has(code);
