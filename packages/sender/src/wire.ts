/** What goes over the wire, and what comes back. */

export type Consent = 'granted' | 'denied' | 'unknown';
export type Value = string | number | boolean | null | readonly Value[] | { readonly [name: string]: Value | undefined };
export type Values = { readonly [name: string]: Value | undefined };

/** The version of a plan that typed calls were generated from. */
export interface PlanStamp {
  readonly version: number;
  readonly hash: string;
}

export interface WireMessage {
  readonly id: string;
  readonly kind: 'event' | 'identify' | 'view' | 'interaction';
  readonly name?: string | undefined;
  /** RFC 3339, in UTC. */
  readonly time: string;
  readonly ids: { readonly [kind: string]: string };
  readonly properties?: Values | undefined;
  readonly user_properties?: Values | undefined;
  readonly page?: string | undefined;
  readonly release?: string | undefined;
  readonly environment?: string | undefined;
  readonly marks?: readonly string[] | undefined;
  readonly consent?: Consent | undefined;
  readonly plan?: PlanStamp | undefined;
  /** What the clock of the device was put right by, ms; left out where it was right. */
  readonly clock_offset_ms?: number | undefined;
  /** How many messages were let go before this one, because more waited than could be kept. */
  readonly dropped_before?: number | undefined;
}

/** What became of one message, as the intake answers. */
export interface MessageAnswer {
  readonly index: number;
  readonly id?: string;
  readonly answer: string;
  readonly reason?: string;
  readonly detail?: string;
  readonly findings?: readonly { readonly code: string; readonly sentence: string; readonly fix: string }[];
}

export interface Answer {
  readonly answers?: readonly MessageAnswer[];
  /** The server's clock, UTC epoch ms. */
  readonly now?: number;
  readonly detail?: string;
}
