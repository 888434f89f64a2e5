/** Which of the messages in sight are looked at: of one environment, of one person, and with a text in title, source, release or envelope. */
import { marksOf } from '../table/message-kinds';
import { PRODUCTION, type Traffic } from '../table/traffic';
import type { Plan } from '../plan/plan';
import type { RecordedMessage } from './live-message';
import { isMine } from './me';

type Seen = Pick<RecordedMessage, 'body' | 'sourceId' | 'release'>;

/** The environment of a message: as it says, else as its source is planned. */
export const environmentOf = (plan: Plan, m: Pick<Seen, 'body' | 'sourceId'>): string =>
  typeof m.body['environment'] === 'string' ? m.body['environment'] : (plan.source[m.sourceId]?.environment ?? '');

export interface LiveFilter<M> {
  readonly traffic: Traffic;
  /** The identifiers of one person; `undefined` for everybody. */
  readonly mine: ReadonlySet<string> | undefined;
  readonly userKind: string;
  /** Without regard to case; empty for any. */
  readonly text: string;
  readonly titleOf: (m: M) => string;
}

/** Whether a message is of a traffic, as the columns tell it: what says no environment and has no source in the plan is production’s. */
const inTraffic = (plan: Plan, m: Seen, t: Traffic): boolean => {
  if (t.environment !== '' && (environmentOf(plan, m) || PRODUCTION) !== t.environment) return false;
  const isMarked = marksOf(m.body['marks']) > 0;
  if (t.marks === 'unmarked' ? isMarked : t.marks === 'marked only' && !isMarked) return false;
  return t.consent === '' || m.body['consent'] === t.consent;
};

/** The messages that pass, in their order, and how many are left out since they are of other traffic. */
export const liveShown = <M extends Seen>(
  plan: Plan,
  all: readonly M[],
  { traffic, mine, userKind, text, titleOf }: LiveFilter<M>,
): { readonly shown: readonly M[]; readonly elsewhere: number } => {
  const needle = text.toLowerCase();
  const here = all.filter((m) => inTraffic(plan, m, traffic));
  const holds = (m: M): boolean => {
    if (needle === '') return true;
    const envelope = JSON.stringify([m.body['ids'], m.body['marks'], m.body['environment']]);
    return `${titleOf(m)} ${m.sourceId} ${m.release} ${envelope}`.toLowerCase().includes(needle);
  };
  return {
    shown: here.filter((m) => (mine === undefined || isMine(mine, m, userKind)) && holds(m)),
    elsewhere: all.length - here.length,
  };
};

/** The environments that can be chosen: those of the plan, and those that arrived. */
export const environmentsSeen = (plan: Plan, all: readonly Seen[]): readonly string[] =>
  [...new Set([...Object.values(plan.source).map((s) => s.environment), ...all.map((m) => environmentOf(plan, m))])].filter(
    (e) => e !== '',
  );
