/** What goes over the wire, and what comes back. */

export type Consent = 'granted' | 'denied' | 'unknown';
/** What somebody said, to all or by purpose. */
export type Consents = Consent | { readonly [purpose: string]: Consent };
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
  /** What it is for, where the application tells purposes apart. */
  readonly purpose?: string | undefined;
  /** The share of devices that send such messages, where that is not all: more than 0, less than 1. */
  readonly sample_rate?: number | undefined;
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
  /** To a question: which of the messages that it names are there already. */
  readonly known?: readonly { readonly id: string }[];
  /** The server's clock, UTC epoch ms. */
  readonly now?: number;
  readonly detail?: string;
}
