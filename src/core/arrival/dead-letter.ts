/** Messages that the intake rejected. */
export interface RejectedBytes {
  readonly reason: string;
  /** What is wrong and how to fix it. */
  readonly detail: string;
  readonly bytes: Uint8Array;
}

export interface DeadLetter {
  readonly id: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly sourceId: string;
  readonly reason: string;
  readonly detail: string;
  /** The bytes as text; by Latin-1 where they are not UTF-8. */
  readonly text: string;
  readonly readable: boolean;
  /** Bytes as they came, and whether all of them are kept. */
  readonly size: number;
  readonly whole: boolean;
}
