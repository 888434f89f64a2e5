/** Messages that wait to be sent, in order; kept where they outlive the page, up to a bound. */
import { safely } from './safely';
import type { Store } from './store';
import type { WireMessage } from './wire';

interface Waiting {
  readonly message: WireMessage;
  readonly text: string;
  /** Where it is kept; empty where the store took no more. */
  readonly key: string;
}

export class Queue {
  private waiting: Waiting[] = [];
  /** Messages that were let go because more waited than the bound allows. */
  dropped = 0;

  /** Shape: `lane` is what this page alone writes to; the IDs of messages, which sort by time, are the keys in it. */
  constructor(
    private readonly store: Store,
    private readonly prefix: string,
    private readonly lane: string,
    private readonly bound: number,
  ) {}

  get length(): number {
    return this.waiting.length;
  }

  private keyOf(id: string): string {
    return `${this.prefix}${this.lane}/${id}`;
  }

  /** Puts a message at the end. Over the bound the oldest goes: it is counted, never forgotten in silence. */
  add(message: WireMessage): void {
    const text = JSON.stringify(message);
    const key = this.keyOf(message.id);
    this.waiting.push({ message, text, key: this.store.write(key, text) ? key : '' });
    while (this.waiting.length > this.bound) {
      this.forget(this.waiting.shift()!);
      this.dropped++;
    }
  }

  /** Takes over what another page of the same sender left, before what waits here; what that was. */
  adopt(lane: string): WireMessage[] {
    const from = `${this.prefix}${lane}/`;
    const left = this.store.keys(from).sort();
    const known = new Set(this.waiting.map((w) => w.message.id));
    const taken: Waiting[] = [];
    for (const old of left) {
      const text = this.store.read(old);
      const message = text === undefined ? undefined : parsed(text);
      if (lane !== this.lane) this.store.remove(old);
      if (message === undefined || known.has(message.id)) continue;
      const key = this.keyOf(message.id);
      taken.push({ message, text: text!, key: this.store.write(key, text!) ? key : '' });
    }
    this.waiting = [...taken, ...this.waiting];
    return taken.map((w) => w.message);
  }

  /** Lanes in which anything waits. */
  lanes(): string[] {
    return [...new Set(this.store.keys(this.prefix).map((k) => k.slice(this.prefix.length).split('/')[0]!))];
  }

  /** The next messages but for some, at least one where any waits, up to a number and a size (characters of JSON). */
  head(count: number, size: number, but: ReadonlySet<string>): readonly WireMessage[] {
    const out: WireMessage[] = [];
    let sum = 0;
    for (const { message, text } of this.waiting) {
      if (but.has(message.id)) continue;
      sum += text.length + 1;
      if (out.length === count || (out.length > 0 && sum > size)) break;
      out.push(message);
    }
    return out;
  }

  /** Takes out what was answered. */
  remove(messages: readonly Pick<WireMessage, 'id'>[]): void {
    const gone = new Set(messages.map((m) => m.id));
    this.waiting = this.waiting.filter((w) => {
      if (gone.has(w.message.id)) this.forget(w);
      return !gone.has(w.message.id);
    });
  }

  /** Puts a message behind all others. */
  toEnd({ id }: WireMessage): void {
    const at = this.waiting.findIndex((w) => w.message.id === id);
    if (at >= 0) this.waiting.push(...this.waiting.splice(at, 1));
  }

  clear(): void {
    for (const w of this.waiting) this.forget(w);
    this.waiting = [];
  }

  private forget(w: Waiting): void {
    if (w.key !== '') this.store.remove(w.key);
  }
}

/** A message as it was kept; what was cut off is none. */
const parsed = (text: string): WireMessage | undefined => {
  const value = safely(() => JSON.parse(text) as WireMessage | null);
  return typeof value?.id === 'string' ? value : undefined;
};
