/** Findings of the plan's own rules, worked out in a web worker: the newest plan wins, and those in between are passed over. */
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
const MAX_FOLLOWED = 500;
const RETRY_MS = 500;
const MAX_FAILURES = 5;

/** A worker that answers, and how it is ended. */
export interface LintPeer {
  readonly api: { readonly [M in 'follow' | 'reset']: (...given: Parameters<LintWorker[M]>) => Promise<ReturnType<LintWorker[M]>> };
  readonly end: () => void;
}

export class LintClient {
  private worker: LintPeer | undefined;
  private held: Plan | undefined;
  private wanted: Plan | undefined;
  private busy = false;
  private failures = 0;
  private state: Linted = { plan: undefined, findings: [] };
  private listeners = new Set<() => void>();

  /** `start` makes a worker; not before `ready`, so that the first view comes first. */
  constructor(
    private readonly start: () => LintPeer | Promise<LintPeer>,
    private readonly ready: Promise<void> = Promise.resolve(),
  ) {}

  private dropWorker(): void {
    this.worker?.end();
    this.worker = undefined;
    this.held = undefined;
  }

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
    this.worker ??= await this.start();
    const { api } = this.worker;
    const { held } = this;
    const edits = held && editsBetween(held, plan);
    // What the worker holds is known again once it has answered; after an error it gets the whole plan.
    this.held = undefined;
    const followed = edits && edits.length <= MAX_FOLLOWED ? await api.follow(edits) : undefined;
    const findings = followed ? withDelta(this.state.findings, followed) : await api.reset(plan);
    this.held = plan;
    return findings;
  }

  private async work(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      await this.ready;
      while (this.wanted && this.wanted !== this.state.plan) {
        const plan = this.wanted;
        this.state = { plan, findings: await this.ask(plan) };
        this.failures = 0;
        for (const l of this.listeners) l();
      }
    } catch (e) {
      // A worker that failed may hold anything: the next one begins anew.
      this.dropWorker();
      console.error(e);
      if (++this.failures <= MAX_FAILURES) setTimeout(() => void this.work(), RETRY_MS * this.failures);
    } finally {
      this.busy = false;
    }
  }
}
