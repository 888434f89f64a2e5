/** A report on a code base: names that the plan does not have, or has in another spelling, and planned events that nobody sends. */
import { foldName, likeness } from '../naming/likeness';
import { entries, isLive, type Id, type Plan } from '../plan/plan';
import { bySeverity } from '../findings/severity';
import { ordered, type Case, type Place, type Report, type Result } from './report';

/** A text in a source, and whether it is surely the name of an event: the first argument of a call that sends one. */
export interface UsedText {
  readonly text: string;
  readonly isSent: boolean;
  readonly place: Place;
}

/** What the plan says of names, for a scan of many sources. */
export interface UsageReport {
  add(used: Iterable<UsedText>): void;
  /** Names of functions that send an event, as they are generated, were called. */
  called(eventName: string, place: Place): void;
  report(title: string, files: number): Report;
}

const MOST_PLACES = 20;

/** Collects what is used and tells what is wrong with it.
 *  Shape: with `sourceId` only what that source is to send is missed.
 *  Limits: a name that is put together when the program runs is not found; a text that is a planned name counts as its use wherever it is.
 */
export const usageOf = (plan: Plan, sourceId?: Id): UsageReport => {
  const events = entries(plan, 'event').filter(([, e]) => e.name !== '');
  const names = new Set(events.map(([, e]) => e.name));
  const former = new Map(events.flatMap(([, e]) => e.formerNames.map((f) => [f, e.name] as const)));
  const retired = new Set(events.filter(([, e]) => !isLive(e)).map(([, e]) => e.name));
  const byFold = new Map(events.map(([, e]) => [foldName(e.name), e.name]));
  const found = new Map<string, { result: Omit<Result, 'places' | 'count'>; readonly places: Place[]; count: number }>();
  const sent = new Set<string>();
  const note = (code: string, severity: Result['severity'], subject: string, sentence: string, fix: string, place: Place): void => {
    const key = JSON.stringify([code, subject, sentence]);
    let own = found.get(key);
    if (!own) found.set(key, (own = { result: { code, severity, subject, sentence, fix }, places: [], count: 0 }));
    // The same words are graver where they are surely sent.
    else if (bySeverity({ severity }, own.result) < 0) own.result = { ...own.result, severity };
    own.count++;
    if (own.places.length < MOST_PLACES) own.places.push(place);
  };
  const near = new Map<string, string | undefined>();
  /** Only a text of a name's length and words can be meant as one. */
  const nearTo = (text: string): string | undefined => {
    if (near.has(text)) return near.get(text);
    const is = text.length > 100 ? undefined : events.find(([, e]) => likeness(text, e.name) !== undefined)?.[1].name;
    near.set(text, is);
    return is;
  };
  return {
    add(used) {
      for (const { text, isSent, place } of used) {
        if (names.has(text)) {
          sent.add(text);
          if (retired.has(text))
            note('event-retired', 'caution', text, `\`${text}\` is retired and still in the code.`, 'Stop sending it.', place);
          continue;
        }
        const now = former.get(text);
        if (now !== undefined) {
          sent.add(now);
          note('former-name', 'caution', now, `\`${text}\` is a former name of \`${now}\`.`, `Send it as \`${now}\`.`, place);
          continue;
        }
        const twin = text.length > 100 || !/[\p{L}]/u.test(text) ? undefined : byFold.get(foldName(text));
        // A word that is a name but for case is a common word as often as not, unless it is sent.
        if (twin !== undefined && (isSent || /[\s_.-]|[\p{Ll}][\p{Lu}]/u.test(text))) {
          if (isSent) sent.add(twin);
          note(
            'other-spelling',
            isSent ? 'stop' : 'note',
            twin,
            `\`${text}\` is \`${twin}\` in another spelling.`,
            `Write \`${twin}\`: names are told apart by case and blanks.`,
            place,
          );
        } else if (isSent) {
          const nearest = nearTo(text);
          note(
            'unknown-event',
            'stop',
            text,
            `\`${text}\` is not in the plan${nearest === undefined ? '' : `; the nearest planned name is \`${nearest}\``}.`,
            nearest === undefined ? 'Add it to the plan, or stop sending it.' : `Send it as \`${nearest}\`, or add it to the plan.`,
            place,
          );
        }
      }
    },
    called(name, _place) {
      sent.add(name);
    },
    report(title, files) {
      const wanted = events.filter(
        ([, e]) => isLive(e) && (sourceId === undefined || e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired')),
      );
      const missing = wanted.filter(([, e]) => !sent.has(e.name));
      const results: Result[] = [
        ...[...found.values()].map(({ result, places, count }) => ({ ...result, places, count })),
        ...missing.map(([, e]): Result => ({
          code: 'never-sent',
          severity: 'caution',
          subject: e.name,
          sentence: `\`${e.name}\` is planned, and nothing in the code names it.`,
          fix: 'Build it, or name the sources that send it elsewhere.',
          places: [],
        })),
      ];
      return {
        command: 'usage',
        title: `Event names in the code against the plan ${title}`,
        facts: [
          `${files.toLocaleString('en-GB')} files read`,
          `${wanted.length - missing.length} of ${wanted.length} planned events are named`,
        ],
        results: ordered(results),
        rules: RULES.filter((r) => results.some((x) => x.code === r.code)),
        cases: wanted.map(([, e]): Case => {
          const own = results.filter((r) => r.subject === e.name);
          return {
            group: 'planned events',
            name: e.name,
            state: own.length > 0 ? 'failed' : 'passed',
            text: own.map((r) => r.sentence).join('\n'),
          };
        }),
      };
    },
  };
};

const RULES: Report['rules'] = [
  { code: 'unknown-event', title: 'Unknown event', why: 'What no plan describes, nobody can interpret.', severity: 'stop' },
  {
    code: 'other-spelling',
    title: 'Other spelling',
    why: 'Names are told apart by case and blanks: two spellings split the data in two.',
    severity: 'stop',
  },
  { code: 'former-name', title: 'Former name', why: 'It still counts, and no longer should be sent.', severity: 'caution' },
  { code: 'event-retired', title: 'Retired event', why: 'Nobody uses it now.', severity: 'caution' },
  { code: 'never-sent', title: 'Never sent', why: 'A planned event that nobody built answers no question.', severity: 'caution' },
];
