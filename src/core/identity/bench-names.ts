/** What the bench's cases are told with: events of the plan where it has such, so that somebody sees their own; never those of another workspace. */
import { entries, isLive, type Plan, type PlanEvent } from '../plan/plan';

export interface BenchNames {
  readonly viewed: string;
  readonly started: string;
  readonly completed: string;
}

const PLAIN: BenchNames = { viewed: 'Page Viewed', started: 'Sign-up Started', completed: 'Sign-up Completed' };

/** Shape: something that a client starts and a server completes, of one flow where there is one; what is lacking is called plainly. */
export const benchNames = (plan: Plan): BenchNames => {
  const live = entries(plan, 'event')
    .map(([, e]) => e)
    .filter((e) => isLive(e) && e.name !== '')
    .sort((a, b) => a.order - b.order || (a.name < b.name ? -1 : 1));
  const isOf = (e: PlanEvent, server: boolean): boolean =>
    e.sources.some((s) => plan.source[s.sourceId] !== undefined && (plan.source[s.sourceId]!.kind === 'server') === server);
  const started = (e: PlanEvent): boolean => e.triggerKind === 'attempted' && isOf(e, false);
  const completed = (e: PlanEvent): boolean => e.triggerKind === 'completed' && isOf(e, true);
  const flow = live.find((e) => e.flow !== '' && started(e) && live.some((x) => x.flow === e.flow && completed(x)))?.flow;
  const first = (is: (e: PlanEvent) => boolean, otherwise: string, taken: readonly string[] = []): string =>
    (live.find((e) => is(e) && e.flow === flow && !taken.includes(e.name)) ?? live.find((e) => is(e) && !taken.includes(e.name)))?.name ??
    otherwise;
  const start = first(started, PLAIN.started);
  const end = first(completed, PLAIN.completed, [start]);
  return { viewed: first((e) => e.triggerKind === 'viewed' && isOf(e, false), PLAIN.viewed, [start, end]), started: start, completed: end };
};
