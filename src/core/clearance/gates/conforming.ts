import { prematureIn } from '../../arrival/many/premature-trigger';
import type { FindingGroup } from '../../arrival/finding-group';
import { rawNeeds } from '../../definitions/planned';
import { likeness } from '../../naming/likeness';
import { isUnder } from '../../plan/page-path';
import type { Plan } from '../../plan/plan';
import { eventNamed } from '../../plan/plan-index';
import { isInside, PathMap } from '../../plan/property-path';
import { userPropertiesOf, type Need } from '../../questions/coverage';
import { trialsFor, wilson } from '../../stats/wilson';
import { GrowingBits } from '../../table/bitset';
import { lowerBound } from '../../table/column';
import { eventView } from '../../table/event-view';
import type { MessageTable } from '../../table/message-table';
import type { Verdict } from '../../table/row-verdicts';
import { defineGate, notLooked, percent, thousands, type ClearanceContext } from '../gate';
import { affectedBy, lowering, raising } from '../lowering';
import { countsPeople, daysOf, type Days } from '../reach';
import { rememberedCount } from '../remembered-count';
import { baseOf, byShare, foundText, signalOf, worstSignal } from '../weight';

/** Whether a finding touches what the formula uses of a message: a used property, an object that it is in or what it holds itself, or an
 *  identifier where people are counted.
 */
const touches = (path: readonly (string | number)[], used: PathMap<true>, people: boolean): boolean => {
  if (path[0] !== 'properties') return people && path[0] === 'ids';
  const at = path.slice(1).map(String);
  for (const ref of used.keys()) if (isInside(ref, at) || isInside(at, ref)) return true;
  return false;
};

/** The properties that a question uses of each event, as its messages carry them; what several needs say of one event is one. */
const usedBy = (plan: Plan, table: MessageTable, needs: readonly Need[]): Map<string, PathMap<true>> => {
  const out = new Map<string, PathMap<true>>();
  for (const need of needs) {
    let used = out.get(need.eventName);
    if (!used) out.set(need.eventName, (used = new PathMap()));
    for (const p of need.properties) used.add(p.name, true);
    if (!table.isDefined(need.eventName)) continue;
    for (const raw of rawNeeds(
      plan,
      need.eventName,
      need.properties.map((p) => p.name),
    ))
      for (const ref of raw.properties) used.add(ref, true);
  }
  return out;
};

interface Why {
  twins: number;
  faulty: number;
  premature: number;
  outside: number;
}

/** Rows of an event whose time is within these days, in no order that means anything. */
const rowsWithin = (c: ClearanceContext, eventName: string, from: number, to: number): Int32Array => {
  const people = c.figures?.('fully linked').people;
  // Rows that came since are looked at with the next look at the persons.
  if (people?.table === c.table) {
    const { rows, time } = eventView(people, eventName);
    let end = lowerBound(time, to);
    while (end < time.length && time[end] === to) end++;
    return rows.subarray(lowerBound(time, from), end);
  }
  const time = c.table.time.raw;
  return c.table.rowsOf(eventName).filter((row) => time[row]! >= from && time[row]! <= to);
};

/** Messages of the days, and those that do not conform; the same by person where people are counted. */
const counted = (c: ClearanceContext, plan: Plan, used: ReadonlyMap<string, PathMap<true>>, people: boolean, { from, to }: Days) => {
  const { table } = c;
  const persons = c.figures?.('fully linked').people.personOfMessage;
  const time = table.time.raw;
  const why: Why = { twins: 0, faulty: 0, premature: 0, outside: 0 };
  const [all, bad] = [new GrowingBits(), new GrowingBits()];
  let [messages, notConforming] = [0, 0];
  const premature = new Map<string, Set<number>>();
  for (const g of prematureIn(plan, c.reconciled)) {
    let own = premature.get(g.params.eventName);
    if (!own) premature.set(g.params.eventName, (own = new Set<number>()));
    for (const row of g.rows) own.add(row);
  }
  const take = (row: number, fails: boolean): void => {
    messages++;
    if (fails) notConforming++;
    const p = persons?.[row] ?? -1;
    if (p < 0) return;
    all.add(p);
    if (fails) bad.add(p);
  };
  const inDays = (row: number): boolean => time[row]! >= from && time[row]! <= to;
  for (const [eventName, paths] of used) {
    const scope = eventNamed(plan, eventName)?.[1].scope ?? '';
    const outside = scope === '' ? undefined : table.pages.values.map((page) => !isUnder(page, scope));
    const early = premature.get(eventName);
    // Messages on which the same was found share the list of it.
    const judged = new Map<readonly Verdict[], boolean>();
    const isFaulty = (row: number): boolean => {
      const verdicts = table.verdictsOf(row);
      if (!verdicts) return false;
      let known = judged.get(verdicts);
      if (known === undefined) judged.set(verdicts, (known = verdicts.some((v) => touches(v.path, paths, people))));
      return known;
    };
    for (const row of rowsWithin(c, eventName, from, to)) {
      const [faulty, tooEarly, misplaced] = [isFaulty(row), early?.has(row) ?? false, outside?.[table.page.get(row)] ?? false];
      if (faulty) why.faulty++;
      if (tooEarly) why.premature++;
      if (misplaced) why.outside++;
      take(row, faulty || tooEarly || misplaced);
    }
    if (table.isDefined(eventName)) continue;
    for (const twin of table.names.values) {
      if (likeness(twin, eventName) !== 'same but for case') continue;
      for (const row of table.rowsOf(twin)) {
        if (!inDays(row)) continue;
        why.twins++;
        take(row, true);
      }
    }
  }
  return { messages, notConforming, people: all.size, badPeople: bad.size, why };
};

/** Findings whose messages are not among those that are counted one by one. */
const NOT_COUNTED = new Set(['unit-suspicion', 'milestones', 'repeated', 'definition-dropped', 'swapped-user-property']);

/** Where a finding is, by its key: `properties.loan_days`. */
const fieldOf = (g: FindingGroup): string => {
  const [, , field] = JSON.parse(g.key) as unknown[];
  return typeof field === 'string' ? field : '';
};

const isOfUsed = (g: FindingGroup, used: ReadonlyMap<string, PathMap<true>>, ofUser: boolean): boolean => {
  const field = fieldOf(g);
  if (field.startsWith('user_properties')) return ofUser;
  if (!field.startsWith('properties.')) return true;
  const at = field.slice('properties.'.length).split('.');
  return [...used.values()].some((paths) => [...paths.keys()].some((ref) => isInside(ref, at) || isInside(at, ref)));
};

export const conforming = defineGate({
  id: 'conforming',
  asks: 'Do enough messages conform?',
  judge(question, needs, c) {
    const { table } = c;
    if (c.recheck)
      return {
        signal: 'open',
        evidence: `${thousands(c.recheck.done)} of ${thousands(c.recheck.total)} recorded messages are checked against the newest version so far.`,
      };
    if (!c.published || !question.formula || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    const { plan } = c.published;
    const used = usedBy(plan, table, needs);
    const days = daysOf(plan, question.formula, c.now);
    const twins = [...used.keys()].flatMap((n) => table.names.values.filter((t) => likeness(t, n) === 'same but for case'));
    const early = c.reconciled.reduce((n, g) => n + (used.has(g.params.eventName) ? g.rows.length : 0), 0);
    const ofPeople = countsPeople(question.formula);
    const key = [
      'conforming',
      c.published.number,
      [...used].map(([n, paths]) => [n, [...paths.keys()]]),
      ofPeople,
      question.formula,
      early,
    ];
    const { messages, notConforming, people, badPeople, why } = rememberedCount(c, key, [...used.keys(), ...twins], () =>
      counted(c, plan, used, ofPeople, days),
    );
    if (messages === 0)
      return {
        signal: 'open',
        evidence: [...used.keys()].some((n) => table.rowsOf(n).length > 0)
          ? 'No message of these events is of the days that the figure looks at.'
          : 'No message of these events has arrived yet.',
      };
    if (!c.groups) return notLooked();
    const byPeople = countsPeople(question.formula) && people > 0;
    const [trials, bad] = byPeople ? [people, badPeople] : [messages, notConforming];
    const { low, high } = wilson(trials - bad, trials)!;
    const { clear } = question.thresholds;
    const reasons = [
      ...(why.twins > 0 ? [`${thousands(why.twins)} under another spelling`] : []),
      ...(why.faulty > 0 ? [`${thousands(why.faulty)} with a faulty field`] : []),
      ...(why.premature > 0 ? [`${thousands(why.premature)} sent before the outcome was known`] : []),
      ...(why.outside > 0 ? [`${thousands(why.outside)} on pages where they have no place`] : []),
    ];
    const affected = affectedBy(plan, table, needs);
    const ofUser = userPropertiesOf(question.formula).length > 0;
    const found = lowering(c.groups, 'conforming', affected, days).filter((g) => isOfUsed(g, used, ofUser));
    const weight = (g: FindingGroup) => byShare(g, baseOf(table, affected, g), question.thresholds);
    const uncounted = found.filter((g) => NOT_COUNTED.has(g.code));
    const own = signalOf(low, question.thresholds);
    const signal = worstSignal([own, ...uncounted.map(weight)]);
    // Where the share may well be what is asked, it is the number that lacks.
    const enough = low < clear && high >= clear ? trialsFor(bad, clear) : undefined;
    const base = byPeople ? (trials === 1 ? 'person' : 'people') : trials === 1 ? 'message' : 'messages';
    const asked = byPeople
      ? `${percent((trials - bad) / trials)} of ${thousands(trials)} ${base} have messages that all conform, at least ${percent(low)} with 95 % confidence; ${percent(clear)} asked`
      : `${percent((trials - bad) / trials)} of ${thousands(trials)} ${base} conform, at least ${percent(low)} with 95 % confidence; ${percent(clear)} asked`;
    const besides = uncounted.filter((g) => weight(g) !== 'clear');
    return {
      signal,
      brief:
        signal !== own && besides.length > 0
          ? besides[0]!.title
          : `At least ${percent(low)} of ${thousands(trials)} ${base} conform; ${percent(clear)} asked`,
      evidence:
        `${asked}${reasons.length > 0 ? `. Not conforming: ${reasons.join(', ')}` : ''}.` +
        (besides.length === 0 ? '' : ` ${foundText(besides)}`) +
        (enough === undefined
          ? ''
          : ` Too few ${byPeople ? 'people' : 'messages'} to say so: ${thousands(enough)} would do, if all further ones conform.`),
      numbers: [
        { what: 'messages that conform', value: `${thousands(messages - notConforming)} of ${thousands(messages)}` },
        ...(people > 0
          ? [{ what: 'people whose messages all conform', value: `${thousands(people - badPeople)} of ${thousands(people)}` }]
          : []),
        { what: 'at least, with 95 % confidence', value: percent(low) },
      ],
      findings: found.map((g) => g.key),
      ...(signal === 'clear' ? {} : { raise: raising(plan, found) }),
    };
  },
});
