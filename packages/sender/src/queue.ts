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
  private all: Waiting[] = [];
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
    return this.all.length;
  }

  private keyOf(id: string): string {
    return `${this.prefix}${this.lane}/${id}`;
  }

  /** Puts a message at the end. Over the bound the oldest goes: it is counted, never forgotten in silence. */
  add(message: WireMessage): void {
    const text = JSON.stringify(message);
    const key = this.keyOf(message.id);
    this.all.push({ message, text, key: this.store.write(key, text) ? key : '' });
    while (this.all.length > this.bound) {
      this.forget(this.all.shift()!);
      this.dropped++;
    }
  }

  /** Takes over what another page of the same sender left, before what waits here; what that was. */
  adopt(lane: string): WireMessage[] {
    const from = `${this.prefix}${lane}/`;
    const left = this.store.keys(from).sort();
    const known = new Set(this.all.map((w) => w.message.id));
    const taken: Waiting[] = [];
    for (const old of left) {
      const text = this.store.read(old);
      const message = text === undefined ? undefined : parsed(text);
      if (lane !== this.lane) this.store.remove(old);
      if (message === undefined || known.has(message.id)) continue;
      const key = this.keyOf(message.id);
      taken.push({ message, text: text!, key: this.store.write(key, text!) ? key : '' });
    }
    this.all = [...taken, ...this.all];
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
    for (const { message, text } of this.all) {
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
    this.all = this.all.filter((w) => {
      if (gone.has(w.message.id)) this.forget(w);
      return !gone.has(w.message.id);
    });
  }

  /** Says something else in the place of messages that nobody was given yet. */
  change(to: (message: WireMessage) => WireMessage): void {
    this.all = this.all.map((w) => {
      const message = to(w.message);
      if (message === w.message) return w;
      const text = JSON.stringify(message);
      this.forget(w);
      return { message, text, key: w.key && this.store.write(w.key, text) ? w.key : '' };
    });
  }

  /** Takes out what is not to be sent now; what that was. */
  takeOut(which: (message: WireMessage) => boolean): WireMessage[] {
    const out = this.all.flatMap(({ message }) => (which(message) ? message : []));
    this.remove(out);
    return out;
  }

  /** Puts a message behind all others. */
  toEnd({ id }: WireMessage): void {
    const at = this.all.findIndex((w) => w.message.id === id);
    if (at >= 0) this.all.push(...this.all.splice(at, 1));
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
