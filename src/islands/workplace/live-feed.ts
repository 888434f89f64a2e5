/** The live stream in the browser: one connection for the whole workplace; it reconnects on its own and misses nothing. */
import type { LiveMessage } from '../../core/arrival/live-message';

const KEPT = 500;
const TOGETHER_MS = 200;
const REOPEN_MS = 3000;

export interface LiveState {
  readonly messages: readonly LiveMessage[];
  readonly connected: boolean;
  /** Messages that arrived since this page was opened. */
  readonly arrived: number;
}

export class LiveFeed {
  private state: LiveState = { messages: [], connected: false, arrived: 0 };
  private listeners = new Set<() => void>();
  private buffer: LiveMessage[] = [];
  private due: ReturnType<typeof setTimeout> | undefined;
  private shownAt = -Infinity;
  private source: EventSource | undefined;
  private reopening: ReturnType<typeof setTimeout> | undefined;
  /** The last message that came. */
  private last = 0;

  constructor(
    private readonly onPlan: () => void,
    private readonly onMessages: () => void,
    private readonly onPeople: () => void,
    private readonly onRecheck: () => void,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): LiveState => this.state;

  private set(next: Partial<LiveState>): void {
    this.state = { ...this.state, ...next };
    for (const l of this.listeners) l();
  }

  /** Begins with these messages, newest first, and follows from the newest on. */
  start(recent: readonly LiveMessage[]): void {
    this.set({ messages: recent });
    this.last = recent[0]?.seq ?? 0;
    this.open(recent[0]?.seq ?? 0);
  }

  private open(after: number): void {
    const source = new EventSource(`/api/live?after=${after}`);
    this.source = source;
    source.onopen = () => {
      this.set({ connected: true });
      this.onPlan();
      this.onMessages();
      this.onPeople();
    };
    source.onerror = () => {
      this.set({ connected: false });
      // A connection that broke is made again by the browser; one that was refused is not.
      if (source.readyState === EventSource.CLOSED)
        this.reopening = setTimeout(() => this.open(this.last), REOPEN_MS * (1 + Math.random()));
    };
    source.addEventListener('message', (e: MessageEvent<string>) => {
      const message = JSON.parse(e.data) as LiveMessage;
      this.last = message.seq;
      this.buffer.push(message);
      // The first shows at once; what comes thick and fast shows together, as often as an eye can follow.
      this.due ??= setTimeout(this.flush, Math.max(0, this.shownAt + TOGETHER_MS - performance.now()));
    });
    source.addEventListener('plan', () => this.onPlan());
    source.addEventListener('people', () => this.onPeople());
    source.addEventListener('findings', () => this.onMessages());
    source.addEventListener('recheck', () => this.onRecheck());
  }

  stop(): void {
    this.source?.close();
    clearTimeout(this.due);
    clearTimeout(this.reopening);
  }

  private flush = (): void => {
    this.due = undefined;
    this.shownAt = performance.now();
    const fresh = this.buffer.reverse();
    this.buffer = [];
    this.set({ messages: [...fresh, ...this.state.messages].slice(0, KEPT), arrived: this.state.arrived + fresh.length });
    this.onMessages();
  };
}
