/** A fake intake for each test, and senders to it that end with the test. */
import { afterEach, beforeEach } from 'vitest';
import { createSender, type Sender, type SenderOptions } from '../../packages/sender/src/index';
import { FakeIntake } from './fake-intake';

export interface WithIntake {
  readonly intake: FakeIntake;
  /** A sender to it, which keeps nothing unless it is given where. */
  sender(more?: Partial<SenderOptions>): Sender;
  /** One that somebody else made, to end with the test. */
  end(sender: Sender): void;
  /** It is gone without an end, as a page may be. */
  forget(sender: Sender): void;
  /** The names of what was taken, in order. */
  names(): (string | undefined)[];
}

export const withIntake = (defaults: Partial<SenderOptions> = {}): WithIntake => {
  let intake: FakeIntake;
  let senders: Sender[] = [];
  beforeEach(async () => {
    intake = await new FakeIntake().start();
  });
  afterEach(async () => {
    for (const s of senders) await s.stop();
    senders = [];
    intake.stop();
  });
  return {
    get intake() {
      return intake;
    },
    sender(more = {}) {
      const made = createSender({ endpoint: intake.endpoint, key: 'wk_test_key', storage: 'none', ...defaults, ...more });
      senders.push(made);
      return made;
    },
    end: (sender) => void senders.push(sender),
    forget: (sender) => void senders.splice(senders.indexOf(sender), 1),
    names: () => intake.taken.map((m) => m.name),
  };
};
