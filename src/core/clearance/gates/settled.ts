import { sourcesOf } from '../../arrival/seen';
import { rawNeeds } from '../../definitions/planned';
import { entries, settingsOf, type Plan } from '../../plan/plan';
import type { Watch } from '../../plan/watch';
import type { Need } from '../../questions/coverage';
import { rememberedFigure } from '../../questions/remembered-figure';
import { typedFormula } from '../../questions/typed-conditions';
import type { Formula } from '../../questions/formula';
import type { MessageTable } from '../../table/message-table';
import { DAY_MS, HOUR_MS } from '../../time';
import { defineGate, span, thousands, type ClearanceContext } from '../gate';
import { hangsOn } from '../hangs-on';
import { precisionOf } from '../precision';
import { firstOfRelease, pairOf } from '../releases';
import { rememberedCount } from '../remembered-count';
import { countsPeople } from '../reach';
import { WANTED } from '../wanted';

interface Change {
  /** UTC epoch ms. */
  readonly at: number;
  /** What changed, as the begin of a sentence. */
  readonly text: string;
}

/** A release that sends less than so much of the traffic has no say. */
const RELEASE_SHARE = 0.05;
const RECENT_MS = 7 * DAY_MS;

/** Releases that began to send an event, and send more than a trifle of what came of it lately; the first of a source is no change. */
const newReleases = (table: MessageTable, plan: Plan, eventName: string, now: number): Change[] => {
  const all = firstOfRelease(table).get(table.names.find(eventName));
  if (!all) return [];
  const rows = table.rowsOf(eventName);
  const counts = new Map<number, number>();
  let recent = 0;
  for (let i = rows.length - 1; i >= 0; i--) {
    const row = rows[i]!;
    if (table.received.get(row) < now - RECENT_MS) break;
    recent++;
    const key = pairOf(table.source.get(row), table.release.get(row));
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const begun = new Map<number, number>();
  for (const { at, source } of all.values()) begun.set(source, Math.min(at, begun.get(source) ?? Infinity));
  return [...counts].flatMap(([key, n]): Change[] => {
    const first = all.get(key)!;
    const release = table.releases.values[first.release] ?? '';
    if (n <= recent * RELEASE_SHARE || first.at === begun.get(first.source) || release === '') return [];
    const sourceId = table.sources.values[first.source]!;
    return [{ at: first.at, text: `Release ${release} of ${plan.source[sourceId]?.name ?? sourceId} began to send \`${eventName}\`` }];
  });
};

const CALLED = { definition: 'The definition ', event: '', property: '', userProperty: 'The user property ' } as const;

/** Everything whose change touches a question: what of the plan it hangs on, identity, releases. Newest first. */
const changesOf = (c: ClearanceContext, plan: Plan, watch: Watch, f: Formula, needs: readonly Need[]): Change[] => {
  const { table, now } = c;
  const names = entries(plan, 'source').map(([id, source]) => [id, source.name]);
  const out: Change[] = [];
  const add = (at: number | undefined, text: string): void => {
    if (at !== undefined) out.push({ at, text });
  };
  for (const { kind, id, name } of hangsOn(plan, f, needs)) add(watch.meaning(kind, id), `${CALLED[kind]}\`${name}\` was changed`);
  if (countsPeople(f)) add(watch.identity(), 'The identity rules were changed');
  for (const need of needs)
    for (const raw of rawNeeds(plan, need.eventName))
      out.push(...rememberedCount(c, ['releases', names], [raw.eventName], () => newReleases(table, plan, raw.eventName, now)));
  return out.sort((a, b) => b.at - a.at || (a.text < b.text ? -1 : 1));
};

export const settled = defineGate({
  id: 'settled',
  asks: 'Has enough time passed since the last change?',
  judge(question, needs, c) {
    if (!c.published || !question.formula || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    if (!c.figures) return { signal: 'open', evidence: 'The figure is not worked out yet.' };
    const { plan, watch } = c.published;
    const { table } = c;
    if (
      needs.every(
        (n) => rawNeeds(plan, n.eventName).every((r) => sourcesOf(table, r.eventName).size === 0) && table.rowsOf(n.eventName).length === 0,
      )
    )
      return { signal: 'open', evidence: 'No message of these events has arrived yet.' };
    const windowMs = settingsOf(plan).settlingHours * HOUR_MS;
    const [last] = changesOf(c, plan, watch, question.formula, needs);
    const due = (last?.at ?? -Infinity) + windowMs;
    if (last && c.now < due)
      return {
        signal: 'open',
        brief: `Changed ${span(c.now - last.at)} ago; settled in ${span(due - c.now)}`,
        evidence: `${last.text} ${span(c.now - last.at)} ago; it settles within ${span(windowMs)}, in ${span(due - c.now)}.`,
        judgedAt: due,
        numbers: [{ what: 'since the last change', value: span(c.now - last.at) }],
      };
    const since = last ? `Nothing that it hangs on has changed for ${span(c.now - last.at)}` : 'Nothing that it hangs on has changed';
    const context = c.figures('fully linked');
    const { formula } = typedFormula(plan, question.formula);
    const p = precisionOf(rememberedFigure(formula, context), formula, context, question.precision);
    if (!p) return { signal: 'clear', brief: since, evidence: `${since}. How precise such an answer is cannot be said.` };
    const numbers = [
      { what: p.of === 'share' ? 'half the interval' : 'half the interval, of the figure', value: p.text },
      { what: 'asked', value: p.wantedText },
      { what: p.base, value: thousands(p.n) },
    ];
    if (p.half <= p.wanted)
      return {
        signal: 'clear',
        brief: `Known to ${p.text}; ${p.wantedText} asked`,
        evidence: `${since}, and the figure is known to ${p.text}, out of ${thousands(p.n)} ${p.base}.`,
        numbers,
      };
    const more =
      p.more === undefined
        ? ''
        : ` ${thousands(p.more)} more ${p.base} would do${p.days === undefined ? '' : `: ${span(p.days * DAY_MS)} at the present rate`}.`;
    return {
      signal: 'caution',
      brief: `Known to ${p.text}, not ${p.wantedText}${p.days === undefined ? '' : `; ${span(p.days * DAY_MS)} more would do`}`,
      evidence: `${since}, but the figure is known to ${p.text} only, where ${p.wantedText} is asked.${more}`,
      numbers,
      ...(p.days === undefined ? {} : { judgedAt: c.now + p.days * DAY_MS }),
      raise: [
        { who: 'whoever asks', text: `Wait for more ${p.base}, look at more days, or ask for less than ${WANTED[p.of].text(p.wanted)}.` },
      ],
    };
  },
});
