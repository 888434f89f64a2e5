/** What the server and its analysis thread say to each other. */

/** A request for a view. */
export interface Asked {
  readonly id: number;
  readonly method: string;
  /** Path and parameters. */
  readonly path: string;
  readonly body: string | undefined;
  /** Of the request, for the log. */
  readonly requestId: string | undefined;
}

export type ToThread =
  | { readonly ask: Asked }
  /** Whoever asked has gone. */
  | { readonly cancel: number }
  | { readonly ping: number }
  | { readonly stop: true };

/** How far the columns are. */
export type Standing = { readonly ready: true } | { readonly ready: false; readonly rows: number; readonly total: number };

export type FromThread =
  | { readonly id: number; readonly status: number; readonly headers: readonly (readonly [string, string])[] }
  /** A piece of the body of an answer. */
  | { readonly id: number; readonly bytes: Uint8Array }
  | { readonly id: number; readonly end: true }
  /** It broke off; the thread's log says why. */
  | { readonly id: number; readonly broken: true }
  | { readonly pong: number; readonly standing: Standing }
  /** The number by which the kernel knows it. */
  | { readonly task: number };
