/** What a stand-in sends with: a write key of its own for each source, and the real intake. */
import { createSender, messageId, type Sender } from '../../packages/sender/src/index';
import { ask } from '../client/api';
import type { ConditionValue } from '../core/questions/formula';

export interface Sent {
  readonly name: string;
  readonly answer: string;
}

export interface Outgoing {
  readonly name?: string;
  readonly kind?: 'interaction' | 'view';
  readonly ids: Record<string, string>;
  readonly properties?: Record<string, ConditionValue | Record<string, string>>;
  readonly user_properties?: Record<string, ConditionValue>;
  readonly page?: string;
  /** Sent at most once with this text, until another page is shown. */
  readonly oncePerView?: string;
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

/** One for each source of a stand-in: what a person does goes through the sender that engineers build with. */
export class StandInSender {
  private key: Promise<string> | undefined;
  private sender: Promise<Sender> | undefined;
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

  private async make(): Promise<Sender> {
    this.key ??= this.mint();
    return createSender({
      endpoint: `${location.origin}/intake`,
      key: await this.key,
      release: this.release,
      // A stand-in says itself who is using it, so that it can be wrong about it.
      idKinds: { anonymous: '', user: '' },
      storage: 'none',
      waitMs: 0,
      onAnswer: ({ answers = [] }, messages) => {
        for (const a of answers) {
          const message = messages[a.index];
          if (message && message.kind !== 'interaction' && message.kind !== 'view')
            this.onSent({ name: message.name ?? 'identify call', answer: a.answer });
        }
      },
      onTrouble: (why) => this.onSent({ name: 'not sent yet', answer: why }),
    });
  }

  /** Sends several at once, past the queue, for traffic of a given rate; what the intake answered, or nothing when it could not be reached. */
  async sendAll(messages: readonly Outgoing[]): Promise<IntakeAnswer | undefined> {
    const body = messages.map(({ at = Date.now(), id = messageId(at), ...m }) => ({
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

  /** Sends one, and resolves when the intake has answered, or could not be reached. */
  async send({ name, kind, ids, properties, user_properties, page, release, oncePerView, at = Date.now() }: Outgoing): Promise<void> {
    let sender: Sender;
    try {
      this.sender ??= this.make();
      sender = await this.sender;
    } catch {
      this.sender = this.key = undefined;
      this.onSent({ name: name ?? 'identify call', answer: 'not sent: the server cannot be reached' });
      return;
    }
    const more = {
      ids,
      at: at + this.ahead,
      page: page ?? '',
      ...(user_properties === undefined ? {} : { userProperties: user_properties }),
      ...(release === undefined ? {} : { release }),
      ...(oncePerView === undefined ? {} : { oncePerView }),
    };
    if (kind === 'view') sender.view(page ?? '', {}, more);
    else if (kind === 'interaction') sender.interaction(properties?.['element'] as Record<string, string>, more);
    else sender.event(name ?? '', properties, more);
    await sender.flush();
  }
}
