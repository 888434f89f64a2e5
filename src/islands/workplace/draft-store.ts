/** The draft in the browser: what the server has, and over it the changes that are on their way.
 *  Long because looking, sending, undoing and settling work on the same queue, and none may see another half done.
 */
import { applyEdits, invertAll, isMade, type Edit, type EditProblem } from '../../core/plan/edit';
import { refusedBy } from '../../core/plan/kept-rules';
import type { Plan } from '../../core/plan/plan';
import type { Workplace } from '../../core/api/workplace';
import { withChanged } from '../../core/plan/draft';
import { ApiError, ask, sendEdits } from '../../client/api';
import { authorName } from './author';
import { Unsent, type Change } from './unsent';

/** What the server has. */
export type ServerState = Workplace;

export interface DraftState {
  readonly server: ServerState | undefined;
  /** The server's plan with the pending changes over it. */
  readonly plan: Plan | undefined;
  readonly saving: 'saved' | 'saving' | 'waiting';
  readonly loadError: ApiError | undefined;
  readonly conflict: { readonly problem: EditProblem; readonly change: Change } | undefined;
  /** Why the last change was turned down, if it was. */
  readonly refusal: string | undefined;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  /** The proposal that is worked on; `undefined` for the draft. */
  readonly proposal: { readonly id: string; readonly name: string } | undefined;
}

/** What follows when the server has taken a change, or has refused it. */
interface Outcome {
  /** The change that this one takes back, or makes again. */
  readonly of?: Change | undefined;
  readonly saved?: (() => void) | undefined;
  readonly refused?: (() => void) | undefined;
}

const RETRY_MS = 1500;
const UNDO_STEPS = 200;

/** Puts a change back onto the stack that it came from. */
const moved = (change: Change, from: Change[], to: Change[]): void => {
  const at = from.lastIndexOf(change);
  if (at < 0) return;
  from.splice(at, 1);
  to.push(change);
};

export class DraftStore {
  private server: ServerState | undefined;
  private pending: Change[] = [];
  private undoStack: Change[] = [];
  private redoStack: Change[] = [];
  private sending = false;
  private waiting = false;
  private conflict: DraftState['conflict'];
  private refusal: string | undefined;
  private loadError: ApiError | undefined;
  private proposal: DraftState['proposal'];
  private listeners = new Set<() => void>();
  private state: DraftState = this.compute();
  /** What an earlier page left behind is taken up once for the draft, and for each proposal. */
  private takenUp = new Set<string | undefined>();
  /** Changes that were sent without an answer: the server may have made them. */
  private unsure = new Set<Change>();
  /** What is to be said or put back once the server has answered. */
  private outcomes = new WeakMap<Change, Outcome>();

  constructor(private readonly unsent = new Unsent()) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): DraftState => this.state;

  private compute(): DraftState {
    let plan = this.server?.plan;
    for (const c of this.pending) {
      if (!plan) break;
      const r = applyEdits(plan, c.edits);
      if (r.ok) plan = r.plan;
    }
    return {
      server: this.server,
      plan,
      saving: this.waiting ? 'waiting' : this.pending.length > 0 ? 'saving' : 'saved',
      loadError: this.loadError,
      conflict: this.conflict,
      refusal: this.refusal,
      canUndo: this.undoStack.length > 0,
      canRedo: this.redoStack.length > 0,
      proposal: this.proposal,
    };
  }

  private changed(): void {
    this.state = this.compute();
    for (const l of this.listeners) l();
  }

  /** Looks at the server. One look at a time: answers that overtake each other would put an older state over a newer one. */
  load = (): Promise<void> => {
    if (this.looking) this.lookAgain = true;
    else this.looking = this.look().finally(() => (this.looking = undefined));
    return this.looking ?? Promise.resolve();
  };

  private looking: Promise<void> | undefined;
  private lookAgain = false;
  /** Changes that the server has taken, counted: an answer asked for before one of them is older than what is here. */
  private taken = 0;

  private async look(): Promise<void> {
    do {
      this.lookAgain = false;
      const of = this.proposal;
      const { taken } = this;
      try {
        const next = of ? await this.readProposal(of.id) : await this.readDraft();
        if (this.proposal !== of) this.lookAgain = true;
        else if (this.sending || this.taken !== taken) this.lookAgain = !this.sending;
        else {
          this.server = next;
          this.draftKnown = of === undefined;
          this.takeUp();
        }
        this.loadError = undefined;
      } catch (e) {
        this.loadError = e instanceof ApiError ? e : new ApiError(0, String(e));
        if (of && this.loadError.status === 404) this.proposal = undefined;
        setTimeout(() => void this.load(), RETRY_MS);
      }
      this.changed();
    } while (this.lookAgain);
  }

  /** Goes on with what was not saved when the page was left. */
  private takeUp(): void {
    const of = this.proposal?.id;
    if (this.takenUp.has(of)) return;
    this.takenUp.add(of);
    const left = this.unsent.read(of);
    if (left.length === 0) return;
    for (const change of left) this.unsure.add(change);
    this.undoStack = [...this.undoStack, ...left];
    this.pending = [...left, ...this.pending];
    void this.flush();
  }

  private setPending(pending: Change[]): void {
    this.pending = pending;
    this.unsent.write(this.proposal?.id, pending);
  }

  private async readDraft(): Promise<ServerState> {
    const known = this.draftKnown ? this.server : undefined;
    const answer = await ask('GET /api/workplace', { query: { after: known?.lastChange } });
    if (!('changed' in answer)) return answer;
    const { changed, ...standing } = answer;
    return { ...standing, ...withChanged(known!, changed) };
  }

  /** Whether `server` holds the draft, so that news are enough. */
  private draftKnown = false;

  private async readProposal(id: string): Promise<ServerState> {
    const { plan, lastChange } = await ask('GET /api/proposal', { query: { id } });
    return { published: null, unpublished: 0, keys: 0, recheck: null, ...this.server, plan, lastChange, revisions: {} };
  }

  /** Goes on in a proposal, or with `undefined` in the draft. What was undone or redone elsewhere stays there. */
  switchTo = async (proposal: DraftState['proposal']): Promise<void> => {
    while (this.sending) await new Promise((next) => setTimeout(next, 50));
    this.proposal = proposal;
    this.draftKnown = false;
    this.undoStack = [];
    this.redoStack = [];
    this.conflict = undefined;
    await this.load();
  };

  /** Applies edits at once here, and sends them; `false` when they do not fit the plan as it is here. `saved` is called once the
   *  server has taken them, never when it refuses: nothing may say before that a change succeeded.
   */
  apply = (edits: readonly Edit[], label: string, saved?: () => void): boolean => {
    if (edits.length === 0) {
      saved?.();
      return true;
    }
    const { plan } = this.state;
    if (!plan || !applyEdits(plan, edits).ok || this.isRefused(edits)) return false;
    const change = { edits, label };
    this.undoStack = [...this.undoStack.slice(-UNDO_STEPS + 1), change];
    this.redoStack = [];
    this.enqueue(change, { saved });
    return true;
  };

  /** Whether edits would make of the plan what it must not be; it is said then. */
  private isRefused(edits: readonly Edit[]): boolean {
    const { plan } = this.state;
    const r = plan && applyEdits(plan, edits);
    const refusal = r?.ok ? refusedBy(plan!, r.plan, edits) : undefined;
    if (!refusal) return false;
    this.refusal = refusal.says;
    this.changed();
    return true;
  }

  /** Takes the last change back; its label, which `saved` gets too once the server has done it. `undefined` without a change. */
  undo = (saved?: (label: string) => void): string | undefined => {
    const change = this.undoStack.pop();
    if (!change) return undefined;
    // What cannot be taken back does not stand before what can.
    if (this.isRefused(invertAll(change.edits))) return change.label;
    this.redoStack.push(change);
    this.enqueue(
      { edits: invertAll(change.edits), label: `Undo: ${change.label}` },
      { of: change, saved: () => saved?.(change.label), refused: () => moved(change, this.redoStack, this.undoStack) },
    );
    return change.label;
  };

  redo = (saved?: (label: string) => void): string | undefined => {
    const change = this.redoStack.pop();
    if (!change) return undefined;
    if (this.isRefused(change.edits)) return change.label;
    this.undoStack.push(change);
    const again = { ...change };
    this.enqueue(again, { of: change, saved: () => saved?.(change.label), refused: () => moved(change, this.undoStack, this.redoStack) });
    return change.label;
  };

  private enqueue(change: Change, outcome: Outcome = {}): void {
    this.outcomes.set(change, outcome);
    this.refusal = undefined;
    this.setPending([...this.pending, change]);
    this.changed();
    void this.flush();
  }

  private async flush(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    while (this.pending[0] && this.server) {
      const change = this.pending[0];
      try {
        const { revisions } = await sendEdits(change.edits, this.server.revisions, change.label, authorName(), this.proposal?.id);
        const merged: Record<string, Record<string, number>> = { ...(this.server.revisions as Record<string, Record<string, number>>) };
        for (const [kind, ids] of Object.entries(revisions)) merged[kind] = { ...merged[kind], ...ids };
        const r = applyEdits(this.server.plan, change.edits);
        this.server = { ...this.server, plan: r.ok ? r.plan : this.server.plan, revisions: merged };
        this.done(change);
      } catch (e) {
        if (!(e instanceof ApiError) || e.status === 0 || e.status >= 500) {
          // Nothing typed is lost: the change stays here and is sent again.
          this.unsure.add(change);
          this.waiting = true;
          this.changed();
          await new Promise((next) => setTimeout(next, RETRY_MS));
          continue;
        }
        if (e.status === 409 && this.unsure.has(change) && (await this.isMade(change))) {
          this.done(change);
          this.changed();
          continue;
        }
        this.drop(change);
        this.waiting = false;
        if (e.status === 409 && e.problem) this.conflict = { problem: e.problem, change };
        else this.refusal = e.message;
      }
      this.changed();
    }
    this.sending = false;
    await this.load();
  }

  private done(change: Change): void {
    this.taken++;
    this.unsure.delete(change);
    this.setPending(this.pending.slice(1));
    this.waiting = false;
    // What is said of a change that is made cannot unmake it: a fault in it is reported, and must not look like an answer of the server.
    try {
      this.outcomes.get(change)?.saved?.();
    } catch (e) {
      reportError(e);
    }
  }

  /** Gives up a change that the server refused, and with it what was queued to take it back: there is nothing to take back. */
  private drop(change: Change): void {
    const outcome = this.outcomes.get(change);
    const rest = this.pending.slice(1);
    const contrary = rest.find((c) => this.outcomes.get(c)?.of === (outcome?.of ?? change));
    this.setPending(rest.filter((c) => c !== contrary));
    this.undoStack = this.undoStack.filter((c) => c !== change);
    this.redoStack = this.redoStack.filter((c) => c !== change);
    if (!contrary) outcome?.refused?.();
  }

  /** Whether the server has made a change whose answer was lost; where it has, its state is the one shown. */
  private async isMade(change: Change): Promise<boolean> {
    this.draftKnown = false;
    const now = await (this.proposal ? this.readProposal(this.proposal.id) : this.readDraft()).catch(() => undefined);
    if (!now || !isMade(now.plan, change.edits)) return false;
    this.server = now;
    return true;
  }

  /** Settles a conflict: with theirs the change is given up; with mine it is sent again over what is there now. */
  settle = (choice: 'mine' | 'theirs'): void => {
    const c = this.conflict;
    this.conflict = undefined;
    if (c && choice === 'mine') {
      const { problem } = c;
      const edits = c.change.edits.map((e) =>
        e.op === 'set' && e.kind === problem.kind && e.id === problem.id && e.field === problem.field
          ? { ...e, before: problem.theirs }
          : e,
      );
      this.enqueue({ edits, label: c.change.label });
    }
    this.changed();
    void this.load();
  };

  clearRefusal = (): void => {
    this.refusal = undefined;
    this.changed();
  };
}
