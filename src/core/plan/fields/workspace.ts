/** The workspace's own settings as rows, each with where its value comes from and as of when. */
import { setField } from '../edit';
import { settingsOf, SETTINGS_ID, type Id, type Plan, type Settings } from '../plan';
import { hasFormat } from '../sample';
import { isTimeZone } from '../time-zone';
import { some, type Editor, type Field, type Written } from './field';

interface Row {
  readonly id: keyof Settings;
  readonly title: string;
  readonly note: string;
  readonly editor: Editor;
  readonly options?: () => readonly string[];
  readonly unit?: string;
  readonly read: (s: Settings) => string;
  /** The value that the text means, or why it is rejected. */
  readonly write: (text: string, s: Settings) => { readonly value: Settings[keyof Settings] } | string;
}

type NumberKey = { [K in keyof Settings]: Settings[K] extends number ? K : never }[keyof Settings];

const number = (
  id: NumberKey,
  title: string,
  unit: string,
  min: number,
  max: number,
  note: string,
  fits?: (n: number, s: Settings) => string | undefined,
): Row => ({
  id,
  title,
  note,
  unit,
  editor: 'number',
  read: (s) => String(s[id]),
  write: (text, s) => {
    const trimmed = text.trim();
    const n = Number(trimmed);
    return trimmed !== '' && n >= min && n <= max
      ? (fits?.(n, s) ?? { value: n })
      : `“${text}” is not a number of ${unit} from ${min} to ${max.toLocaleString('en-GB')}.`;
  },
});

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
const MAX_HOURS = 8784;

/** A zone as the platform's list writes it; one that is not on the list, such as another name of one that is, stays as it was written. */
const asListed = (zone: string): string => Intl.supportedValuesOf('timeZone').find((z) => z.toLowerCase() === zone.toLowerCase()) ?? zone;

export const WORKSPACE_ROWS: readonly Row[] = [
  {
    id: 'name',
    title: 'Name',
    note: 'Shown at the top of every screen.',
    editor: 'text',
    read: (s) => s.name,
    write: (text) => (text.trim() === '' || text.length > 200 ? 'A name of 1 to 200 characters.' : { value: text.trim() }),
  },
  {
    id: 'timeZone',
    title: 'Time zone',
    note: 'Days, weeks and months of every figure begin by it.',
    editor: 'choice',
    options: () => Intl.supportedValuesOf('timeZone'),
    read: (s) => s.timeZone,
    write: (text) =>
      isTimeZone(text.trim()) ? { value: asListed(text.trim()) } : `“${text}” is not a time zone; write one such as Europe/London.`,
  },
  {
    id: 'weekStartsOn',
    title: 'First day of the week',
    note: 'With Monday, weeks are those of ISO 8601.',
    editor: 'choice',
    options: () => WEEKDAYS,
    read: (s) => WEEKDAYS[s.weekStartsOn - 1] ?? '',
    write: (text) => {
      const found = WEEKDAYS.findIndex((d) => d.toLowerCase() === text.trim().toLowerCase());
      return found < 0 ? `“${text}” is not a day; choose ${WEEKDAYS.join(', ')}.` : { value: found + 1 };
    },
  },
  {
    id: 'currency',
    title: 'Currency',
    note: 'Three letters, as in ISO 4217: of money without a currency beside it, and of the price of persons.',
    editor: 'text',
    read: (s) => s.currency,
    write: (text) =>
      hasFormat('currency', text.trim().toUpperCase())
        ? { value: text.trim().toUpperCase() }
        : `“${text}” is not a currency; write three letters such as EUR.`,
  },
  number('tooEarlyHours', 'Too early to say', 'hours', 0, MAX_HOURS, 'For this long, a missing event is not reported.'),
  number('settlingHours', 'Settling', 'hours', 0, MAX_HOURS, 'A change or fix counts as settled after this time.'),
  number('escalationHours', 'A wait becomes a fault', 'hours', 0, MAX_HOURS, 'An event that has not arrived by then is a fault.'),
  number(
    'sessionGapMinutes',
    'A session ends',
    'minutes',
    1,
    1440,
    'After this time without an event of the same person on the same source.',
  ),
  number(
    'clockToleranceSeconds',
    'Clocks may differ by',
    'seconds',
    0,
    3600,
    'Messages of different sources that are reversed by no more than this count as in order. Order within one source is strict.',
  ),
  number(
    'clearFromPercent',
    'Clear from',
    '%',
    0,
    100,
    'A question is clear when surely this share of its messages, or people, conforms. A question can ask for more or less.',
    (n, s) => (n < s.cautionFromPercent ? `Caution begins at ${s.cautionFromPercent} %; clear begins there or above.` : undefined),
  ),
  number('cautionFromPercent', 'Caution from', '%', 0, 100, 'Below this share, a question stops.', (n, s) =>
    n > s.clearFromPercent ? `Clear begins at ${s.clearFromPercent} %; caution begins there or below.` : undefined,
  ),
  number(
    'historyYears',
    'Files reach back',
    'years',
    1,
    20,
    'A message of a file that is said to have happened earlier, or in the future, is rejected: its date cannot be right.',
  ),
];

const rowOf = (id: Id): Row | undefined => WORKSPACE_ROWS.find((r) => r.id === id);

const writeRow = (plan: Plan, id: Id, text: string): Written => {
  const row = rowOf(id);
  const next = row?.write(text, settingsOf(plan)) ?? 'There is no such setting.';
  return typeof next === 'string' ? next : some(setField(plan, 'settings', SETTINGS_ID, row!.id, next.value));
};

const writeProvenance = (plan: Plan, id: Id, change: { source?: string; asOf?: string }): Written => {
  const { provenance } = settingsOf(plan);
  const next = { source: '', asOf: '', ...provenance[id], ...change };
  const { [id]: _, ...others } = provenance;
  const says = next.source !== '' || next.asOf !== '';
  return some(setField(plan, 'settings', SETTINGS_ID, 'provenance', says ? { ...others, [id]: next } : others));
};

const DEFAULT_SOURCE = 'common practice';
/** Of these it is said where the shipped figure comes from. */
const SHIPPED: ReadonlySet<string> = new Set([
  'tooEarlyHours',
  'settlingHours',
  'escalationHours',
  'sessionGapMinutes',
  'clockToleranceSeconds',
  'clearFromPercent',
  'cautionFromPercent',
  'historyYears',
]);

export const workspaceFields: readonly Field[] = [
  { key: 'title', title: 'Setting', width: 180, editor: 'text', read: (_, id) => rowOf(id)?.title ?? '', write: undefined },
  {
    key: 'value',
    title: 'Value',
    width: 170,
    wire: true,
    editor: 'text',
    read: (plan, id) => rowOf(id)?.read(settingsOf(plan)) ?? '',
    write: writeRow,
  },
  { key: 'unit', title: 'Unit', width: 74, editor: 'text', read: (_, id) => rowOf(id)?.unit ?? '', write: undefined },
  {
    key: 'source',
    title: 'Who says so',
    width: 190,
    editor: 'text',
    read: (plan, id) => settingsOf(plan).provenance[id]?.source || (SHIPPED.has(id) ? DEFAULT_SOURCE : ''),
    write: (plan, id, text) =>
      text.length > 500
        ? 'At most 500 characters.'
        : writeProvenance(plan, id, { source: text.trim() === DEFAULT_SOURCE ? '' : text.trim() }),
  },
  {
    key: 'asOf',
    title: 'As of',
    width: 110,
    editor: 'text',
    read: (plan, id) => settingsOf(plan).provenance[id]?.asOf ?? '',
    write: (plan, id, text) =>
      text.trim() === '' || hasFormat('date', text.trim())
        ? writeProvenance(plan, id, { asOf: text.trim() })
        : `“${text}” is not a day; write one such as 2026-03-01.`,
  },
  { key: 'note', title: 'What it does', width: 480, editor: 'text', read: (_, id) => rowOf(id)?.note ?? '', write: undefined },
];

/** The editor of a row's value: each setting has its own. */
export const workspaceEditor = (id: Id): { editor: Editor; options: readonly string[] } => ({
  editor: rowOf(id)?.editor ?? 'text',
  options: rowOf(id)?.options?.() ?? [],
});
