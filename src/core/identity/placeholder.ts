/** Values that stand for "no value": left by templates, by conversions, by test data. */

/** Of any text value. Case matters here but for the words; as one pattern, so that JSON Schema can carry it (ECMA-262, no flags). */
export const PLACEHOLDER_PATTERN =
  '^(?:[Nn]ull|NULL|[Uu]ndefined|NaN|\\[object Object\\]|TODO|\\{\\{[^}]*\\}\\}|\\$\\{[^}]*\\}|<%[^%]*%>|%[A-Za-z_]+%|\\{[A-Za-z_.]+\\})$';

const PATTERN = new RegExp(PLACEHOLDER_PATTERN);

/** First letters that any placeholder can have, as a table by character code: most values are told apart by it alone. */
const FIRST = new Uint8Array(128);
for (const c of 'nNuU[T{$<%') FIRST[c.charCodeAt(0)] = 1;

export const isPlaceholder = (v: string): boolean => {
  const c = v.charCodeAt(0);
  return c < 128 && FIRST[c] === 1 && PATTERN.test(v);
};

const ID_WORDS = new Set([
  '',
  '0',
  '-1',
  'anonymous',
  'guest',
  'none',
  'n/a',
  'na',
  'test',
  'unknown',
  'user',
  'user_id',
  'userid',
  'example',
]);

/** As above, for a value that claims to identify: words for nobody count too; blanks around it do not help. */
export const isPlaceholderId = (v: string): boolean => {
  const t = v.trim();
  return isPlaceholder(t) || ID_WORDS.has(t.toLowerCase()) || /^0+(-0+)*$/.test(t);
};
