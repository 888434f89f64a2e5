/** Why a run cannot go on: wrong use, or something that cannot be read. */
export const EXIT = { clean: 0, findings: 1, usage: 2, unreadable: 3 } as const;

export class Trouble extends Error {
  constructor(
    readonly code: (typeof EXIT)['usage'] | (typeof EXIT)['unreadable'],
    message: string,
  ) {
    super(message);
  }
}

export const unreadable = (what: string, detail: string): Trouble => new Trouble(EXIT.unreadable, `${what}: ${detail}`);
export const misused = (detail: string): Trouble => new Trouble(EXIT.usage, detail);
