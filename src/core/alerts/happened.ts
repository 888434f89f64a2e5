/** What happened between two looks: each thing once, with a key of its cause. */
import { SEVERITIES, type Severity } from '../findings/severity';
import type { SignOff } from '../clearance/sign-off';
import type { Id, Plan } from '../plan/plan';
import type { AlertKind } from './kinds';
import type { Concerns, Watched, WatchedFinding, WatchedWaiver } from './watched';

export interface Happened extends Concerns {
  readonly kind: AlertKind;
  /** The same for the same cause: nothing is told twice of one. */
  readonly cause: string;
  readonly severity: Severity;
  /** A sentence; names in back quotes. */
  readonly says: string;
  /** What whoever acts on it has to know, by name; not there in what was kept before it was said. */
  readonly about?: About | undefined;
  /** Where to look: a question or a finding. */
  readonly at: { readonly question: Id } | { readonly finding: string } | null;
}

export interface About {
  /** Title and key of the finding; `null` where it is about none. */
  readonly finding: { readonly title: string; readonly key: string } | null;
  readonly questions: readonly string[];
  readonly events: readonly string[];
  readonly sources: readonly string[];
  readonly releases: readonly string[];
  readonly owners: readonly string[];
}

/** More are counted by nobody who reads a mail. */
const MAX_NAMED = 10;

const aboutOf = (plan: Plan, c: Concerns, finding: About['finding'] = null, releases: readonly string[] = []): About => ({
  finding,
  questions: c.questions.map((id) => plan.question[id]?.text ?? id).slice(0, MAX_NAMED),
  events: c.events.slice(0, MAX_NAMED),
  sources: c.sources.map((id) => plan.source[id]?.name ?? id).slice(0, MAX_NAMED),
  releases: releases.slice(0, MAX_NAMED),
  owners: c.owners.slice(0, MAX_NAMED),
});

export type Fallen = Pick<SignOff, 'id' | 'questionId' | 'author' | 'because'>;

const RANK = { stop: 0, caution: 1, clear: 2 } as const;
const graver = (a: Severity, b: Severity): boolean => SEVERITIES.indexOf(a) < SEVERITIES.indexOf(b);

const ofFinding = (f: WatchedFinding, was: WatchedFinding | undefined): readonly [AlertKind, string] | undefined => {
  if (f.state !== 'open') return undefined;
  if (!was) return [f.code === 'silence' ? 'silence' : f.code === 'volume-change' ? 'volume' : 'finding opened', f.sentence];
  if (was.state !== 'open') return ['finding reopened', f.sentence];
  if (graver(f.severity, was.severity)) return ['finding got worse', `From ${was.severity} to ${f.severity}: ${f.sentence}`];
  const fresh = f.releases.filter((r) => !was.releases.includes(r));
  if (fresh.length > 0)
    return ['finding spread', `It has spread to ${fresh.slice(0, 3).map((r) => (r === '' ? 'messages without a release' : `release ${r}`)).join(', ')}: ${f.sentence}`]; // prettier-ignore
  return undefined;
};

/** Shape: in the order signals, sign-offs, findings, follow-ups, limits, rejected messages. `look`: a number that no other pair of looks has; what can
 *  happen again has it in its cause. `fallen`: sign-offs that fell, or were
 *  taken back, between the two: one may be given and fall before anybody looks.
 */
export const happenedBetween = (plan: Plan, before: Watched, now: Watched, look: number, fallen: readonly Fallen[] = []): Happened[] => {
  const out: Happened[] = [];
  const tell = (
    kind: AlertKind,
    what: string,
    more: Concerns & Pick<Happened, 'severity' | 'says' | 'at'>,
    finding?: Pick<WatchedFinding, 'title' | 'releases'>,
  ): void =>
    void out.push({
      kind,
      cause: JSON.stringify([kind, what, look]),
      questions: more.questions,
      events: more.events,
      sources: more.sources,
      owners: more.owners,
      severity: more.severity,
      says: more.says,
      about: aboutOf(plan, more, finding ? { title: finding.title, key: what } : null, finding?.releases),
      at: more.at,
    });
  for (const [id, q] of Object.entries(now.questions)) {
    const was = before.questions[id];
    const isSame = (a: WatchedWaiver, b: WatchedWaiver): boolean => a.gate === b.gate && a.at === b.at;
    const fresh = (q.waived ?? []).filter((w) => !(was?.waived ?? []).some((x) => isSame(w, x)));
    const ended = (was?.waived ?? []).filter((w) => !(q.waived ?? []).some((x) => isSame(w, x)));
    for (const w of was ? fresh : [])
      tell('gate waived', `${id} ${w.gate} ${w.at}`, {
        ...q,
        severity: 'caution',
        says: `“${q.text}”: ${w.author} answers for the gate “${w.gate}”, which is ${w.from === 'open' ? 'not judged' : `at ${w.from}`}, until ${new Date(w.until).toISOString().slice(0, 10)}: ${w.reason}`,
        at: { question: id },
      });
    if (!was || was.signal === null || q.signal === null || was.signal === q.signal) continue;
    const fell = RANK[q.signal] < RANK[was.signal];
    // What rose because somebody answers for it did not get better, and is told as that alone.
    if (!fell && fresh.length > 0) continue;
    const byEnd = fell && ended.length > 0 ? ` Nobody answers for ${ended.map((w) => `“${w.gate}”`).join(' and ')} any longer.` : '';
    tell(fell ? 'signal fell' : 'signal rose', id, {
      ...q,
      severity: fell ? (q.signal === 'stop' ? 'stop' : 'caution') : 'note',
      says: `“${q.text}” ${fell ? 'fell' : 'rose'} from ${was.signal} to ${q.signal}.${q.says === '' ? '' : ` ${q.says}`}${byEnd}`,
      at: { question: id },
    });
  }
  for (const s of fallen) {
    const q = now.questions[s.questionId];
    // Of a question that the plan no longer has nothing is told.
    if (q) tell('sign-off fell', String(s.id), { ...q, severity: 'stop', says: `The sign-off of “${q.text}” by ${s.author} no longer holds. ${s.because ?? ''}`.trim(), at: { question: s.questionId } }); // prettier-ignore
  }
  for (const [key, f] of Object.entries(now.findings)) {
    const found = ofFinding(f, before.findings[key]);
    if (found) tell(found[0], key, { ...f, says: `${f.title}: ${found[1]}`, at: { finding: key } }, f);
  }
  for (const [key, f] of Object.entries(now.followUps))
    if (!before.followUps[key]) tell('follow-up due', key, { ...f, severity: 'caution', says: `A follow-up is due: ${f.says}`, at: null });
  for (const [key, l] of Object.entries(now.limits))
    if (!before.limits[key]) tell('limit', key, { ...l, severity: 'caution', says: l.says, at: null });
  for (const [sourceId, { told }] of Object.entries(now.rejected)) {
    const more = told - (before.rejected[sourceId]?.told ?? 0);
    if (more <= 0) continue;
    const source = plan.source[sourceId];
    tell('rejected messages', sourceId, {
      questions: [],
      events: [],
      sources: [sourceId],
      owners: source?.owner ? [source.owner] : [],
      severity: 'caution',
      says: `${more.toLocaleString('en-GB')} message${more === 1 ? ' was' : 's were'} rejected, from ${source?.name ?? (sourceId || 'somebody without a valid key')}.`,
      at: null,
    });
  }
  return out;
};

/** More of one kind at once are told as one. */
const MAX_SINGLE = 20;
const NAMED = 3;

/** What belongs together, told together: many of one kind at one look are one. */
export const together = (happened: readonly Happened[]): Happened[] => {
  const byKind = new Map<AlertKind, Happened[]>();
  for (const h of happened) byKind.set(h.kind, [...(byKind.get(h.kind) ?? []), h]);
  return [...byKind.values()].flatMap((list): Happened[] => {
    const [first] = list;
    if (!first || list.length <= MAX_SINGLE) return list;
    const all = <T>(read: (h: Happened) => readonly T[]): T[] => [...new Set(list.flatMap(read))];
    const worst = SEVERITIES.find((s) => list.some((h) => h.severity === s)) ?? first.severity;
    return [
      {
        kind: first.kind,
        cause: JSON.stringify(['many', first.kind, first.cause]),
        severity: worst,
        questions: all((h) => h.questions),
        events: all((h) => h.events),
        sources: all((h) => h.sources),
        owners: all((h) => h.owners),
        about: {
          finding: null,
          questions: all((h) => h.about?.questions ?? []).slice(0, MAX_NAMED),
          events: all((h) => h.about?.events ?? []).slice(0, MAX_NAMED),
          sources: all((h) => h.about?.sources ?? []).slice(0, MAX_NAMED),
          releases: all((h) => h.about?.releases ?? []).slice(0, MAX_NAMED),
          owners: all((h) => h.about?.owners ?? []).slice(0, MAX_NAMED),
        },
        says: `${list.length.toLocaleString('en-GB')} at once (${first.kind}), among them: ${list.slice(0, NAMED).map((h) => h.says).join(' ')}`, // prettier-ignore
        at: null,
      },
    ];
  });
};
