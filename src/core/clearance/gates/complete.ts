import { defineGate, notLooked, percent, thousands } from '../gate';
import { affectedBy, lowering, raising } from '../lowering';
import { daysOf } from '../reach';
import { rememberedCount } from '../remembered-count';
import { stillExpected } from '../still-expected';
import { baseOf, byMissing, bySeverity, byShare, foundBrief, foundText, worstSignal } from '../weight';

/** Findings on single messages weigh by their share; silence, volume, lost messages by how grave they are. */
const BY_SHARE = new Set(['double-fire', 'sent-again', 'id-reused', 'id-elsewhere', 'too-old']);

export const complete = defineGate({
  id: 'complete',
  asks: 'Did everything arrive?',
  judge(question, needs, c) {
    if (!c.published || !question.formula || needs.length === 0) return { signal: 'open', evidence: 'Nothing is planned to judge by.' };
    if (!c.groups) return notLooked();
    const { plan } = c.published;
    const affected = affectedBy(plan, c.table, needs);
    if ([...affected.names].every((n) => c.table.rowsOf(n).length === 0))
      return { signal: 'open', evidence: 'No message of these events has arrived yet.' };
    const days = daysOf(plan, question.formula, c.now);
    const found = lowering(c.groups, 'complete', affected, days);
    const weight = (g: (typeof found)[number]) =>
      g.missing !== undefined
        ? byMissing(g.missing, g, baseOf(c.table, affected, g), question.thresholds)
        : BY_SHARE.has(g.code)
          ? byShare(g, baseOf(c.table, affected, g), question.thresholds)
          : bySeverity(g);
    const signal = worstSignal(found.map(weight));
    const counts = found.filter((g) => weight(g) !== 'clear');
    const pairs = c.confirmed?.filter((p) => affected.names.has(p.clientName) && p.lost.of > 0) ?? [];
    const lost = pairs.map(
      (p) => `of ${thousands(p.lost.of)} \`${p.serverName}\`, ${percent(1 - p.lost.n / p.lost.of)} have their \`${p.clientName}\``,
    );
    const late = rememberedCount(c, ['on their way', question.formula], affected.names, () =>
      stillExpected(c.table, affected.names, days, c.now),
    );
    return {
      signal,
      brief: counts.length === 0 ? 'Nothing is known to be missing or doubled' : foundBrief(counts),
      evidence:
        counts.length > 0
          ? foundText(counts)
          : `No silence, no unexplained volume, nothing left that came twice${lost.length > 0 ? `; ${lost.join('; ')}` : ''}.`,
      numbers: [
        ...pairs.map((p) => ({
          what: `confirmed and seen: ${p.clientName}`,
          value: `${percent(1 - p.lost.n / p.lost.of)}, at least ${percent(1 - p.lost.interval!.high)}`,
        })),
        {
          what: 'still on their way, by the usual lag',
          value: `about ${thousands(Math.round(late.expected))}, with ${thousands(late.messages)} there`,
        },
      ],
      findings: found.map((g) => g.key),
      ...(signal === 'clear' ? {} : { raise: raising(plan, counts) }),
    };
  },
});
