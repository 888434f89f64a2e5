/** What the generators make, and what of. */
import type { FaultId } from './faults';

export interface GeneratedMessage {
  readonly sourceId: 'web' | 'app' | 'backend' | 'kiosk' | 'payments';
  /** UTC epoch ms. */
  readonly receivedAt: number;
  readonly message: {
    readonly id: string;
    readonly kind?: 'identify' | 'interaction';
    readonly name?: string;
    readonly time: string;
    readonly ids: Record<string, string>;
    readonly properties?: Record<string, unknown>;
    readonly user_properties?: Record<string, unknown>;
    readonly release: string;
    readonly page?: string;
  };
}

export interface GeneratorOptions {
  readonly seed: number;
  /** End of the history, UTC epoch ms. */
  readonly now: number;
  readonly visitors: number;
  readonly faults: ReadonlySet<FaultId>;
  /** Share of the messages, persons or days on which a planted fault shows; 1 where not said. */
  readonly strength?: number;
}
