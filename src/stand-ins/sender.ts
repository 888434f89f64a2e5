/** What a stand-in sends with: a write key of its own for each source, and the real intake. */
import type { ConditionValue } from '../core/questions/formula';

export interface Sent {
  readonly name: string;
  readonly answer: string;
}

interface IntakeAnswer {
  readonly answers?: readonly { readonly answer: string }[];
  readonly detail?: string;
}

const KEY_HOURS = 12;

export class Sender {
  private key: Promise<string> | undefined;

  constructor(
    private readonly sourceId: string,
    private readonly release: string,
    private readonly onSent: (sent: Sent) => void,
  ) {}

  private async mint(): Promise<string> {
    const response = await fetch('/api/keys', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ sourceId: this.sourceId, label: 'stand-in', hours: KEY_HOURS }),
    });
    const body = (await response.json()) as { key?: string; detail?: string };
    if (!body.key) throw new Error(body.detail ?? 'no key');
    return body.key;
  }

  async send(message: {
    name?: string;
    kind?: 'identify';
    ids: Record<string, string>;
    properties?: Record<string, ConditionValue>;
    page?: string;
  }): Promise<void> {
    const full = { id: crypto.randomUUID(), time: new Date().toISOString(), release: this.release, ...message };
    const name = message.name ?? 'identify call';
    try {
      this.key ??= this.mint();
      const response = await fetch('/intake', {
        method: 'POST',
        headers: { authorization: `Bearer ${await this.key}`, 'content-type': 'application/json' },
        body: JSON.stringify([full]),
      });
      const body = (await response.json()) as IntakeAnswer;
      this.onSent({ name, answer: body.answers?.[0]?.answer ?? body.detail ?? `answered ${response.status}` });
    } catch {
      this.key = undefined;
      this.onSent({ name, answer: 'not sent: the server cannot be reached' });
    }
  }
}
