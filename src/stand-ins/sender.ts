/** What a stand-in sends with: a write key of its own for each source, and the real intake. */
import { ask } from '../client/api';
import type { ConditionValue } from '../core/questions/formula';

export interface Sent {
  readonly name: string;
  readonly answer: string;
}

export interface Outgoing {
  readonly name?: string;
  readonly kind?: 'identify' | 'interaction';
  readonly ids: Record<string, string>;
  readonly properties?: Record<string, ConditionValue | Record<string, string>>;
  readonly user_properties?: Record<string, ConditionValue>;
  readonly page?: string;
  /** Where it is to be another than the sender's, or than now (UTC epoch ms). */
  readonly release?: string;
  readonly id?: string;
  readonly at?: number;
}

interface IntakeAnswer {
  readonly accepted?: number;
  readonly acceptedWithFindings?: number;
  readonly duplicates?: number;
  readonly rejected?: number;
  readonly answers?: readonly { readonly answer: string }[];
  readonly detail?: string;
}

const KEY_HOURS = 12;

export class Sender {
  private key: Promise<string> | undefined;
  /** How far the clock of this device runs ahead, in ms. */
  private ahead = 0;

  setAhead(ms: number): void {
    this.ahead = ms;
  }

  constructor(
    private readonly sourceId: string,
    private readonly release: string,
    private readonly onSent: (sent: Sent) => void,
  ) {}

  private async mint(): Promise<string> {
    const made = await ask('POST /api/keys', { body: { sourceId: this.sourceId, label: 'stand-in', hours: KEY_HOURS } });
    if (!('key' in made)) throw new Error('no key');
    return made.key;
  }

  /** Sends several at once; what the intake answered, or nothing when it could not be reached. */
  async sendAll(messages: readonly Outgoing[]): Promise<IntakeAnswer | undefined> {
    const body = messages.map(({ at = Date.now(), id = crypto.randomUUID(), ...m }) => ({
      id,
      time: new Date(at + this.ahead).toISOString(),
      release: this.release,
      ...m,
    }));
    try {
      this.key ??= this.mint();
      const response = await fetch('/intake', {
        method: 'POST',
        headers: { authorization: `Bearer ${await this.key}`, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      const answer = (await response.json()) as IntakeAnswer;
      return response.ok || answer.answers ? answer : { detail: answer.detail ?? `answered ${response.status}` };
    } catch {
      this.key = undefined;
      return undefined;
    }
  }

  async send(message: Outgoing): Promise<void> {
    const answer = await this.sendAll([message]);
    this.onSent({
      name: message.name ?? (message.kind === 'interaction' ? 'interaction' : 'identify call'),
      answer: answer ? (answer.answers?.[0]?.answer ?? answer.detail ?? 'no answer') : 'not sent: the server cannot be reached',
    });
  }
}
