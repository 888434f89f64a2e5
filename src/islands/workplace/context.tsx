/** What all stations share: the draft, the router, the live stream. */
import { createContext, useContext, useEffect, useSyncExternalStore, type ReactNode } from 'react';
import type { Plan } from '../../core/plan/plan';
import type { Place, StationId } from './place';
import type { Lens } from '../../core/table/lens';
import type { DraftState, DraftStore } from './draft-store';
import type { LintClient, Linted } from './lint-client';
import type { LiveFeed } from './live-feed';

export interface WorkplaceValue {
  readonly store: DraftStore;
  readonly live: LiveFeed;
  readonly lint: LintClient;
  readonly place: Place;
  readonly go: (station: StationId, item?: string) => void;
  readonly lookThrough: (lens: Lens) => void;
}

const Context = createContext<WorkplaceValue | undefined>(undefined);

export const WorkplaceProvider = ({ value, children }: { value: WorkplaceValue; children: ReactNode }) => (
  <Context value={value}>{children}</Context>
);

export const useWorkplace = (): WorkplaceValue => {
  const value = useContext(Context);
  if (!value) throw new Error('outside of the workplace');
  return value;
};

export const useDraft = (): DraftState => {
  const { store } = useWorkplace();
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
};

/** The draft plan; only below the point where it is loaded. */
export const usePlan = (): Plan => {
  const { plan } = useDraft();
  if (!plan) throw new Error('the plan is not loaded');
  return plan;
};

/** The findings of the plan's own rules, of the newest plan that they were worked out for. */
export const useLint = (): Linted => {
  const { lint } = useWorkplace();
  return useSyncExternalStore(lint.subscribe, lint.snapshot, lint.snapshot);
};

/** Keeps the findings up with the draft, and with what is being typed. */
export const useLintOf = (plan: Plan): Linted => {
  const { lint } = useWorkplace();
  useEffect(() => lint.want(plan), [lint, plan]);
  return useLint();
};
