import { prematureIn } from '../../arrival/many/premature-trigger';
import { rawNeeds } from '../../definitions/planned';
import { likeness } from '../../naming/likeness';
import { isInside, PathMap } from '../../plan/property-path';
import { trialsFor, wilson } from '../../stats/wilson';
import { followingVerdicts } from '../../table/following';
import type { Verdict } from '../../table/message-table';
import { defineGate, thousands } from '../gate';

const percent = (share: number): string => `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;

/** Whether a finding touches what the formula uses of a message: a used property, an object that it is in or what it holds itself, or an
 *  identifier.
 */
const touches = (path: readonly (string | number)[], used: PathMap<true>): boolean => {
  if (path[0] !== 'properties') return path[0] === 'ids';
  const at = path.slice(1).map(String);
  for (const ref of used.keys()) if (isInside(ref, at) || isInside(at, ref)) return true;
  return false;
};

/** Index of an event's name → what was found on messages of it → how many. Messages on which the same was found share the list of it. */
const countsByVerdicts = followingVerdicts(
  () => new Map<number, Map<readonly Verdict[], number>>(),
  (state, table, from, to) => {
    for (const row of table.judgedRows(from)) {
      if (row >= to) break;
      const name = table.name.get(row);
      if (name < 0) continue;
      const verdicts = table.verdicts.get(row)!;
      let ofName = state.get(name);
      if (!ofName) state.set(name, (ofName = new Map<readonly Verdict[], number>()));
      ofName.set(verdicts, (ofName.get(verdicts) ?? 0) + 1);
    }
  },
);

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
    let [trials, twins, faulty, premature, both] = [0, 0, 0, 0, 0];
    // What several needs say of one event is one.
    const usedOf = new Map<string, PathMap<true>>();
    for (const need of needs) {
      let used = usedOf.get(need.eventName);
      if (!used) usedOf.set(need.eventName, (used = new PathMap()));
      for (const p of need.properties) used.add(p.name, true);
      // Of a defined event it is what its messages carry that conforms or does not.
      if (c.published && table.isDefined(need.eventName))
        for (const raw of rawNeeds(
          c.published.plan,
          need.eventName,
          need.properties.map((p) => p.name),
        ))
          for (const ref of raw.properties) used.add(ref, true);
    }
    const early = c.published ? prematureIn(c.published.plan, c.reconciled) : [];
    for (const [eventName, used] of usedOf) {
      for (const twin of table.names.values)
        if (!table.isDefined(eventName) && likeness(twin, eventName) === 'same but for case') twins += table.rowsOf(twin).length;
      trials += table.rowsOf(eventName).length;
      const isFaulty = (verdicts: readonly Verdict[] | undefined): boolean => verdicts?.some((v) => touches(v.path, used)) ?? false;
      if (table.isDefined(eventName)) {
        for (const row of table.rowsOf(eventName)) if (isFaulty(table.verdicts.get(row))) faulty++;
        continue;
      }
      for (const [verdicts, n] of countsByVerdicts(table).get(table.names.find(eventName)) ?? []) if (isFaulty(verdicts)) faulty += n;
      for (const g of early) {
        if (g.params.eventName !== eventName) continue;
        premature += g.rows.length;
        for (const row of g.rows) if (isFaulty(table.verdicts.get(row))) both++;
      }
    }
    trials += twins;
    if (trials === 0) return { signal: 'open', evidence: 'No message of these events has arrived yet.' };
    const bad = twins + faulty + premature - both;
    const { low, high } = wilson(trials - bad, trials)!;
    const { clear, caution } = question.thresholds;
    const reasons = [
      ...(twins > 0 ? [`${thousands(twins)} under another spelling`] : []),
      ...(faulty > 0 ? [`${thousands(faulty)} with a faulty field`] : []),
      ...(premature > 0 ? [`${thousands(premature)} sent before the outcome was known`] : []),
    ];
    // Where the share may well be what is asked, it is the number of messages that lacks.
    const enough = low < clear && high >= clear ? trialsFor(bad, clear) : undefined;
    const asked = `${percent((trials - bad) / trials)} of ${thousands(trials)} ${trials === 1 ? 'message' : 'messages'} conform, at least ${percent(low)} with 95 % confidence; ${percent(clear)} asked`;
    return {
      signal: low >= clear ? 'clear' : low >= caution ? 'caution' : 'stop',
      evidence:
        `${asked}${reasons.length > 0 ? `. Not conforming: ${reasons.join(', ')}` : ''}.` +
        (enough === undefined ? '' : ` Too few messages to say so: ${thousands(enough)} would do, if all further ones conform.`),
    };
  },
});
