/** The way from nothing to a first verdict, and how far a workspace is on it. */
import { entries, type Plan } from './plan';

export const FIRST_STEPS = [
  { id: 'question', title: 'Write a question' },
  { id: 'event', title: 'Plan an event' },
  { id: 'source', title: 'Name the source' },
  { id: 'key', title: 'Create a write key' },
  { id: 'message', title: 'Send a message' },
  { id: 'verdict', title: 'Publish and read its verdict' },
] as const;
export type FirstStepId = (typeof FIRST_STEPS)[number]['id'];

export interface Progress {
  readonly plan: Plan;
  /** Write keys in use. */
  readonly keys: number;
  /** Messages received, whatever counts. */
  readonly received: number;
  readonly published: boolean;
}

/** The steps that are done. A later one may be done before an earlier one. */
export const doneSteps = ({ plan, keys, received, published }: Progress): ReadonlySet<FirstStepId> => {
  const isDone: Readonly<Record<FirstStepId, boolean>> = {
    question: entries(plan, 'question').some(([, q]) => q.text.trim() !== ''),
    event: entries(plan, 'event').some(([, e]) => !e.retired),
    source: entries(plan, 'source').length > 0,
    // Who has sent something has a key, or had one.
    key: keys > 0 || received > 0,
    message: received > 0,
    verdict: received > 0 && published,
  };
  return new Set(FIRST_STEPS.map((s) => s.id).filter((id) => isDone[id]));
};

/** What to do next; `undefined` where all is done. */
export const nextStep = (done: ReadonlySet<FirstStepId>): (typeof FIRST_STEPS)[number] | undefined =>
  FIRST_STEPS.find((s) => !done.has(s.id));
