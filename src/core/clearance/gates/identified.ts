import type { FindingGroup } from '../../arrival/finding-group';
import { rememberedFigure } from '../../questions/remembered-figure';
import { headlineOf } from '../../questions/formulas/computations';
import { typedFormula } from '../../questions/typed-conditions';
import { GrowingBits } from '../../table/bitset';
import { lowerBound } from '../../table/column';
import { eventView } from '../../table/event-view';
import { followingPersons, type Attributed } from '../../table/following-persons';
import { bitsAfter } from '../../table/renumbering';
import { defineGate, notLooked, percent, thousands } from '../gate';
import { affectedBy, lowering, raising } from '../lowering';
import { countsPeople, daysOf, type Days } from '../reach';
import { rememberedCount } from '../remembered-count';
import { baseOf, byShare, foundBrief, foundText, worstSignal } from '../weight';

/** Persons with a user ID on any of their messages. */
const withUserId = followingPersons(
  () => ({ persons: new GrowingBits() }),
  ({ persons }, { table, personOfMessage }, from, to) => {
    const user = table.ids.get(table.userKind)?.rawFor(to);
    if (!user) return true;
    for (let row = from; row < to; row++) if (user[row]! >= 0 && personOfMessage[row]! >= 0) persons.add(personOfMessage[row]!);
    return true;
  },
  undefined,
  (state, _people, by) => {
    state.persons = bitsAfter(state.persons, by);
    return true;
  },
);

/** Messages of the events in these days, and whose they are. */
const counted = (of: Attributed, names: readonly string[], { from, to }: Days) => {
  const people = new GrowingBits();
  let [messages, ofNobody] = [0, 0];
  for (const name of names) {
    const { time, person } = eventView(of, name);
    for (let i = lowerBound(time, from); i < time.length && time[i]! <= to; i++) {
      messages++;
      if (person[i]! < 0) ofNobody++;
      else people.add(person[i]!);
    }
  }
  return { messages, ofNobody, people: people.size, known: people.shared(withUserId(of).persons) };
};

export const identified = defineGate({
  id: 'identified',
  asks: 'Are persons counted once?',
  judge(question, needs, c) {
    if (!c.published || !question.formula || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    if (!c.groups || !c.figures) return notLooked();
    if (!countsPeople(question.formula)) return { signal: 'clear', evidence: 'It counts messages, not people.' };
    const { plan } = c.published;
    const { table } = c;
    const linked = c.figures('fully linked');
    const days = daysOf(plan, question.formula, c.now);
    const names = [...new Set(needs.map((n) => n.eventName))];
    const { messages, ofNobody, people, known } = rememberedCount(c, ['identified', question.formula], names, () =>
      counted(linked.people, names, days),
    );
    if (messages === 0) return { signal: 'open', evidence: 'No message of these events is of the days that the figure looks at.' };
    const { formula } = typedFormula(plan, question.formula);
    const of = (basis: 'fully linked' | 'user ID first'): number | undefined =>
      headlineOf(rememberedFigure(formula, c.figures!(basis))).value;
    const [asCounted, unlinked] = [of('fully linked'), of('user ID first')];
    const inflation = asCounted === undefined || unlinked === undefined || asCounted === 0 ? undefined : unlinked / asCounted - 1;
    const affected = affectedBy(plan, table, needs);
    const found = lowering(c.groups, 'identified', affected, days);
    const weight = (g: FindingGroup) => byShare(g, baseOf(table, affected, g), question.thresholds);
    const signal = worstSignal(found.map(weight));
    const counts = found.filter((g) => weight(g) !== 'clear');
    const whole = `${thousands(people)} people, fully linked; ${percent(known / Math.max(1, people))} of them are known by a user ID`;
    return {
      signal,
      brief: counts.length === 0 ? `${thousands(people)} people, nobody known to count twice` : foundBrief(counts),
      evidence:
        counts.length === 0 ? `${whole}, and nothing is found that counts them twice or not at all.` : `${whole}. ${foundText(counts)}`,
      numbers: [
        { what: 'people, fully linked', value: thousands(people) },
        { what: 'known by a user ID', value: percent(known / Math.max(1, people)) },
        ...(ofNobody > 0 ? [{ what: 'messages of nobody', value: `${thousands(ofNobody)} of ${thousands(messages)}` }] : []),
        ...(inflation === undefined
          ? []
          : [{ what: 'this figure without linking', value: `${inflation < 0 ? '−' : '+'}${percent(Math.abs(inflation))}` }]),
      ],
      findings: found.map((g) => g.key),
      ...(signal === 'clear' ? {} : { raise: raising(plan, counts) }),
    };
  },
});
