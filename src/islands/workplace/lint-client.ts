/** Findings of the plan's own rules, worked out in a web worker: the newest plan wins, and those in between are passed over. */
import { wrap, type Remote } from 'comlink';
import { withDelta } from '../../core/lint/delta';
import type { ShownFinding } from '../../core/lint/lint';
import { editsBetween } from '../../core/plan/diff';
import type { Plan } from '../../core/plan/plan';
import type { LintWorker } from '../../workers/lint-worker';

export interface Linted {
  /** The plan that the findings are about. */
  readonly plan: Plan | undefined;
  readonly findings: readonly ShownFinding[];
}

/** Beyond so many edits the whole plan goes over at once. */
const MOST_FOLLOWED = 500;

export class LintClient {
  private worker: Remote<LintWorker> | undefined;
  private held: Plan | undefined;
  private wanted: Plan | undefined;
  private busy = false;
  private state: Linted = { plan: undefined, findings: [] };
  private listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): Linted => this.state;

  /** Asks for the findings of this plan. */
  want(plan: Plan): void {
    if (plan === this.wanted) return;
    this.wanted = plan;
    void this.work();
  }

  private async ask(plan: Plan): Promise<readonly ShownFinding[]> {
    this.worker ??= wrap<LintWorker>(new Worker(new URL('../../workers/lint-worker.ts', import.meta.url), { type: 'module' }));
    const edits = this.held && editsBetween(this.held, plan);
    this.held = plan;
    const followed = edits && edits.length <= MOST_FOLLOWED ? await this.worker.follow(edits) : undefined;
    return withDelta(this.state.findings, followed ?? (await this.worker.reset(plan)));
  }

  private async work(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      while (this.wanted && this.wanted !== this.state.plan) {
        const plan = this.wanted;
        this.state = { plan, findings: await this.ask(plan) };
        for (const l of this.listeners) l();
      }
    } finally {
      this.busy = false;
    }
  }
}
