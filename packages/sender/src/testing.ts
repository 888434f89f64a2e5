/** A sender for tests of an application: it keeps what would be sent, and sends nothing. */
import { createSender, type Sender, type SenderOptions } from './sender';
import type { WireMessage } from './wire';

export interface TestSender extends Sender {
  /** What would have been sent, in order. */
  readonly messages: readonly WireMessage[];
  /** Those events of a name. */
  named(name: string): readonly WireMessage[];
  /** Forgets them. */
  clear(): void;
}

/** Shape: as with another sender, `beforeSend`, consent and what is added to it decide what is sent. */
export const createTestSender = (options: Partial<SenderOptions> = {}): TestSender => {
  const messages: WireMessage[] = [];
  const sender = createSender({
    endpoint: '',
    key: 'test',
    storage: 'none',
    ...options,
    beforeSend: (message) => {
      const sent = options.beforeSend ? options.beforeSend(message) : message;
      if (sent) messages.push(JSON.parse(JSON.stringify(sent)) as WireMessage);
      // Nothing waits, so nothing is ever sent.
      return null;
    },
  });
  return Object.assign(Object.create(sender) as TestSender, {
    messages,
    named: (name: string) => messages.filter((m) => m.name === name),
    clear: () => void messages.splice(0),
  });
};
