/** Values that stand for "no value": left by templates, by conversions, by test data. */

/** Of any text value. Case matters here but for the words; as one pattern, so that JSON Schema can carry it (ECMA-262, no flags). */
export const PLACEHOLDER_PATTERN =
  '^(?:[Nn]ull|NULL|[Uu]ndefined|NaN|\\[object Object\\]|TODO|\\{\\{[^}]*\\}\\}|\\$\\{[^}]*\\}|<%[^%]*%>|%[A-Za-z_]+%|\\{[A-Za-z_.]+\\})$';

const PATTERN = new RegExp(PLACEHOLDER_PATTERN);

const WORDS = new Set(['null', 'Null', 'NULL', 'undefined', 'Undefined', 'NaN', '[object Object]', 'TODO']);

/** What a first letter can lead to, by character code: most values are told apart by it alone. */
const LEADS_TO_WORD = 1;
const LEADS_TO_TEMPLATE = 2;
const FIRST = new Uint8Array(128);
for (const w of WORDS) FIRST[w.charCodeAt(0)] = LEADS_TO_WORD;
for (const c of '{$<%') FIRST[c.charCodeAt(0)] = LEADS_TO_TEMPLATE;

/** Whether a value matches `PLACEHOLDER_PATTERN`. */
export const isPlaceholder = (v: string): boolean => {
  const c = v.charCodeAt(0);
  if (!(c < 128)) return false;
  const lead = FIRST[c]!;
  return lead === 0 ? false : lead === LEADS_TO_WORD ? WORDS.has(v) : PATTERN.test(v);
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

/** Of "anonymous" and "undefined". */
const LONGEST_WORD = 9;
const BRACKET = 91;
const ZERO = 48;
/** First letters that a placeholder of an identifier can have; blanks count, since they are trimmed. */
const ID_FIRST = FIRST.map((lead, c) =>
  lead > 0 || c <= 32 || c === ZERO || [...ID_WORDS].some((w) => w !== '' && [w, w.toUpperCase()].some((x) => x.charCodeAt(0) === c))
    ? 1
    : 0,
);

/** As above, for a value that claims to identify: words for nobody count too; blanks around it do not help. */
export const isPlaceholderId = (v: string): boolean => {
  const c = v.charCodeAt(0);
  if (c < 128 && ID_FIRST[c] === 0) return false;
  // Longer than any word, no blank at either end, and not begun like a template, a bracket or a zero: it is a value.
  if (v.length > LONGEST_WORD && c > ZERO && c < 128 && c !== BRACKET && FIRST[c] !== LEADS_TO_TEMPLATE && v.charCodeAt(v.length - 1) > 32)
    return false;
  const t = v.trim();
  return isPlaceholder(t) || ID_WORDS.has(t.toLowerCase()) || /^0+(-0+)*$/.test(t);
};
