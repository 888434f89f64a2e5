/** Values that mean "no value": left by templates, by conversions, by test data. */

/** Of any text value. Case matters here but for the words; as one pattern, so that JSON Schema can carry it (ECMA-262, no flags). */
export const PLACEHOLDER_PATTERN =
  '^(?:[Nn]ull|NULL|[Uu]ndefined|NaN|\\((?:null|undefined)\\)|\\[object Object\\]|TODO|\\{\\{[^}]*\\}\\}|\\$\\{[^}]*\\}|#\\{[^}]*\\}|\\[\\[[^\\]]*\\]\\]|__[A-Z][A-Z0-9_]*__|<%[^%]*%>|%[A-Za-z_]+%|\\{[A-Za-z_.]+\\})$';

const PATTERN = new RegExp(PLACEHOLDER_PATTERN);

const WORDS = new Set(['null', 'Null', 'NULL', 'undefined', 'Undefined', 'NaN', 'TODO']);

/** What a first letter can lead to, by character code: most values are told apart by it alone. */
const LEADS_TO_WORD = 1;
const LEADS_TO_TEMPLATE = 2;
const FIRST = new Uint8Array(128);
for (const w of WORDS) FIRST[w.charCodeAt(0)] = LEADS_TO_WORD;
for (const c of '{$<%#[(_') FIRST[c.charCodeAt(0)] = LEADS_TO_TEMPLATE;

/** Whether a value matches `PLACEHOLDER_PATTERN`. */
export const isPlaceholder = (v: string): boolean => {
  const c = v.charCodeAt(0);
  if (!(c < 128)) return false;
  const lead = FIRST[c]!;
  return lead === 0 ? false : lead === LEADS_TO_WORD ? WORDS.has(v) : PATTERN.test(v);
};

/** Words that identify nobody, in lower case; blanks, hyphens, underscores and brackets around and within them do not matter. */
const ID_WORDS = new Set(
  `0 -1 1-1 anonymous anon guest nobody none null nil undefined unknown unset notset empty blank missing void nan na n/a tbd todo test tester
   testing testuser testid demo demouser dummy sample example default placeholder foo bar xxx false true user userid username uid id visitor
   visitorid customer customerid member memberid account accountid client clientid device deviceid session sessionid anonymousid string text
   value objectobject nouser noid noname notavailable notapplicable`.split(/\s+/),
);

/** Templates that only an identifier can be mistaken for: what a name in brackets or behind a sign is. */
const ID_TEMPLATES = [
  /^<\/?[a-z][\w .-]*>$/i,
  /^:[a-z_]\w*$/i,
  /^@{1,2}[a-z_]+@{1,2}$/i,
  /^\$(?:[A-Z_]{3,}|\w*(?:user|id)\w*)$/,
  /^\$\([^)]*\)$/,
  /^#[a-z_]+#$/i,
  /^[[(]{1,2}[a-z_ ]+[\])]{1,2}$/i,
  /^%(?:s|d|i|@|\(\w+\)s)$/,
  /^\{(?:\d*|%.*%)\}$/,
  /^(?:your|my|insert|replace|put|enter|some)[ _-]*(?:the|your|a)?[ _-]*(?:user|member|customer|account|client|device|visitor|anonymous|own|id|here|value|token|key)[ _-]*(?:id|uid|name|here|uuid)?(?:[ _-]*here)?$/i,
  /^_{2,}\w+_{2,}$/,
  /^[-_.?*~#/\\|=+'"`]+$/,
];
/** One digit repeated in the form of a UUID; noughts in any form. */
const ALL_ALIKE = /^(?:0+(?:-0+)*|([0-9a-f])\1{7}(?:-\1{4}){3}-\1{12})$/i;

const LONGEST_WORD = Math.max(...[...ID_WORDS].map((w) => w.length)) + 6;
const SIGNS = ':@$#[(%{<_-.?*~/\\|=+\'"`';
/** First letters of what is longer than a word and still a placeholder: templates, and `your_…`, `insert_…` and the like. */
const LONG_FIRST = new Uint8Array(128);
for (const c of `${SIGNS}yYmMiIrRpPeEsS0123456789aAbBcCdDfF`) LONG_FIRST[c.charCodeAt(0)] = 1;
const HEXADECIMAL_UUID = 36;

const foldWord = (t: string): string => t.toLowerCase().replace(/[\s_()[\]<>{}"'-]+/g, '');

const isLetterOrDigit = (c: number): boolean => (c >= 97 && c <= 122) || (c >= 65 && c <= 90) || (c >= 48 && c <= 57);
const hasDigit = (v: string): boolean => {
  for (let i = 0; i < v.length; i++) {
    const c = v.charCodeAt(i);
    if (c >= 48 && c <= 57) return true;
  }
  return false;
};

/** As above, for a value that claims to identify: words for nobody count too; blanks around it do not help. */
export const isPlaceholderId = (v: string): boolean => {
  const c = v.charCodeAt(0);
  const { length } = v;
  // Most identifiers are letters and digits, and no word for nobody has a digit behind a letter.
  if (length > 3 && isLetterOrDigit(c) && c !== 48 && v.charCodeAt(1) !== c && hasDigit(v)) return false;
  if (length > LONGEST_WORD && c < 128 && c > 32) {
    if (LONG_FIRST[c] === 0) return false;
    // What begins with a digit or a hexadecimal letter is looked at only where it may be one digit repeated.
    const isSign = SIGNS.includes(v[0]!);
    if (
      !isSign &&
      !(v.charCodeAt(1) === c && (length === HEXADECIMAL_UUID || c === 48)) &&
      !/^(?:your|my|insert|replace|put|enter|some)/i.test(v)
    )
      return false;
  }
  const t = v.trim();
  if (t === '') return true;
  if (isPlaceholder(t) || ALL_ALIKE.test(t)) return true;
  if (t.length <= LONGEST_WORD && (ID_WORDS.has(t.toLowerCase()) || ID_WORDS.has(foldWord(t)))) return true;
  return ID_TEMPLATES.some((p) => p.test(t));
};
