import { dayOf } from '../../questions/calendar';
import { dayShown } from '../../questions/day-text';
import { settingsOf } from '../../plan/plan';
import { DAY_MS } from '../../time';
import { defineGate, notLooked, span } from '../gate';
import { affectedBy, lowering, raising } from '../lowering';
import { daysOf } from '../reach';
import { received, type Received } from '../received';
import { baseOf, byShare, foundBrief, foundText, worstSignal } from '../weight';

const PAUSE_DAYS = 28;
/** So many times as long as the longest pause of these days: a new longest one comes now and then. */
const PAUSES = 2;
/** So many of a source's messages are there when a day is called complete. */
const THERE = 0.99;

/** The longest pause of the last weeks: nights and quiet days are in it. */
const usualPause = ({ pauses, newest }: Received): number => {
  const first = Math.floor(newest / DAY_MS) - PAUSE_DAYS;
  let longest = 0;
  for (const [day, pause] of pauses) if (day > first && pause > longest) longest = pause;
  return longest;
};

export const fresh = defineGate({
  id: 'fresh',
  asks: 'Does it arrive on time?',
  judge(question, needs, c) {
    if (!c.published || !question.formula || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    if (!c.groups) return notLooked();
    const { plan } = c.published;
    const affected = affectedBy(plan, c.table, needs);
    const bySource = received(c.table);
    const sources = [...affected.sources].flatMap((id) => {
      const own = bySource[c.table.sources.find(id)];
      if (!own) return [];
      const allowed = (plan.source[id]?.expectedLagMs ?? 0) + PAUSES * usualPause(own);
      return [{ name: plan.source[id]?.name ?? id, age: Math.max(0, c.now - own.newest), allowed, lag: own.lags.quantile(THERE) ?? 0 }];
    });
    if (sources.length === 0) return { signal: 'open', evidence: 'No message of these sources has arrived yet.' };
    const late = sources.filter((s) => s.age > s.allowed).sort((a, b) => b.age - b.allowed - (a.age - a.allowed));
    const found = lowering(c.groups, 'fresh', affected, daysOf(plan, question.formula, c.now));
    const weight = (g: (typeof found)[number]) => byShare(g, baseOf(c.table, affected, g), question.thresholds);
    const weighty = found.filter((g) => weight(g) !== 'clear');
    const signal = worstSignal([
      ...late.map((s) => (s.age > s.allowed + DAY_MS ? ('stop' as const) : ('caution' as const))),
      ...found.map(weight),
    ]);
    const { timeZone } = settingsOf(plan);
    const completeUpTo = dayOf(Math.min(...sources.map((s) => c.now - s.age - s.lag)) - DAY_MS, timeZone);
    const complete = dayShown(completeUpTo);
    const upTo = `The days up to ${complete} are complete: 99 of 100 messages are there by then`;
    return {
      signal,
      completeUpTo,
      brief:
        late.length > 0
          ? `${late[0]!.name} has sent nothing for ${span(late[0]!.age)}`
          : weighty.length > 0
            ? foundBrief(weighty)
            : `Complete up to ${complete}`,
      evidence:
        late.length > 0
          ? `${late[0]!.name} has sent nothing for ${span(late[0]!.age)}, where ${span(late[0]!.allowed)} are usual. ${upTo}.`
          : weighty.length > 0
            ? `${foundText(weighty)} ${upTo}.`
            : `${upTo}; the newest message is ${span(Math.max(...sources.map((s) => s.age)))} old at most.`,
      numbers: sources.map((s) => ({ what: s.name, value: `newest ${span(s.age)} old, ${span(s.allowed)} allowed` })),
      findings: found.map((g) => g.key),
      ...(signal === 'clear'
        ? {}
        : {
            raise: [
              ...late.map((s) => ({ who: s.name, text: 'Look whether it still sends, and with a valid key.' })),
              ...raising(plan, weighty),
            ],
          }),
    };
  },
});
