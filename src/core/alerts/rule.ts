/** Rules: of what happens, what is told to whom, by what. */
import { entries, type Plan } from '../plan/plan';
import { SEVERITIES, type Severity } from '../findings/severity';
import type { AlertKind } from './kinds';
import type { Happened } from './happened';
import type { Concerns } from './watched';

export interface AlertRule {
  readonly name: string;
  readonly active: boolean;
  readonly kinds: readonly AlertKind[];
  /** At least as severe. */
  readonly severity: Severity;
  /** Only what concerns one of these; empty lists choose nothing out. */
  readonly questions: readonly string[];
  readonly events: readonly string[];
  readonly sources: readonly string[];
  readonly owners: readonly string[];
  /** How it is told: in the inbox always. */
  readonly by: 'inbox' | 'webhook' | 'mail';
  /** An address of the web, or addresses of mail with commas; empty for the inbox. */
  readonly to: string;
  /** As it happens, or once a day what came since. */
  readonly pace: 'at once' | 'daily';
}

/** What a rule is to be about that none of these plans has, as a sentence; `undefined` where all is there. `before`: what the rule named already, which may have
 *  gone since.
 */
export const unknownToRule = (rule: AlertRule, plans: readonly Plan[], before?: AlertRule): string | undefined => {
  const kinds = [
    ['questions', 'question', (p: Plan) => Object.keys(p.question)],
    ['events', 'event', (p: Plan) => [...entries(p, 'event').map(([, e]) => e.name), ...entries(p, 'definition').map(([, d]) => d.name)]],
    ['sources', 'source', (p: Plan) => Object.keys(p.source)],
  ] as const;
  for (const [list, word, named] of kinds) {
    const known = new Set([...plans.flatMap(named), ...(before?.[list] ?? [])]);
    const missing = rule[list].filter((x) => !known.has(x));
    if (missing.length > 0)
      return `There is no ${word} ${missing.map((m) => `“${m}”`).join(', ')} in the plan; leave it out, or choose another.`;
  }
  return undefined;
};

const meets = (wanted: readonly string[], given: readonly string[]): boolean =>
  wanted.length === 0 || wanted.some((w) => given.includes(w));

/** Whether a rule is about something that happened. */
export const isAbout = (rule: AlertRule, h: Concerns & Pick<Happened, 'kind' | 'severity'>): boolean =>
  rule.active &&
  rule.kinds.includes(h.kind) &&
  // What gets better is told whatever severity is asked for.
  (h.kind === 'signal rose' || SEVERITIES.indexOf(h.severity) <= SEVERITIES.indexOf(rule.severity)) &&
  meets(rule.questions, h.questions) &&
  meets(rule.events, h.events) &&
  meets(rule.sources, h.sources) &&
  meets(rule.owners, h.owners);

/** Whether a rule tells when a question falls, of which these are the concerns. */
export const tellsOfFall = (rule: AlertRule, concerns: Concerns): boolean =>
  (['signal fell', 'sign-off fell'] as const).some((kind) => isAbout(rule, { ...concerns, kind, severity: 'stop' }));
