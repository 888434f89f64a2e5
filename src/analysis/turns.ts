/** Many hold one state, or one changes it: whoever holds it sees it as it was, whoever changes it is alone. */

export interface TurnsOf<S> {
  /** Brings a state up to date: gives another, or changes the one before within `alone`, while nobody holds it. */
  readonly bring: (before: S | undefined, alone: (change: () => Promise<void>) => Promise<void>) => Promise<S>;
  readonly patience: Patience;
}

/** This long whoever comes waits for the newest state, in ms, before it gets the one before. */
export interface Patience {
  /** While others hold that. */
  readonly held: number;
  /** While nobody does, so that only the work itself takes long. */
  readonly free: number;
}

export interface Hold<S> {
  readonly state: S;
  /** How long ago it was the newest, in ms; 0 where it is. */
  readonly age: number;
  /** Once is enough; more does no harm. */
  readonly release: () => void;
}

const ASKED = Number(process.env['SIGNAL_POST_PATIENCE_MS']);

/** `SIGNAL_POST_PATIENCE_MS`: another one. */
export const PATIENCE: Patience = ASKED > 0 ? { held: ASKED, free: ASKED } : { held: 300, free: 5000 };

export class Turns<S> {
  current: S | undefined;
  private readonly holders = new Map<S, number>();
  /** Something is to be added as soon as nobody holds the state: whoever can, should hurry. */
  isWaitedFor = false;
  private bringing: Promise<void> | undefined;
  private next: Promise<void> | undefined;
  private changing: Promise<void> | undefined;
  private drained: (() => void) | undefined;
  /** Somebody waited in vain for what is to be added: while the state is held nobody else waits for it. */
  private isLate = false;
  /** When the look began after which the state was what it is, by a clock that only goes on. */
  private lookedAt = 0;

  constructor(private readonly options: TurnsOf<S>) {}

  /** Something is to be added, and waits for one alone: whoever holds the state and can go on with the next one lets it in by releasing this. Where others
   *  hold it, too, that would help nobody.
   */
  get waitsForOne(): boolean {
    return this.isWaitedFor && this.current !== undefined && this.holders.get(this.current) === 1;
  }

  private async alone(state: S | undefined, change: () => Promise<void>): Promise<void> {
    while (state !== undefined && this.holders.has(state)) {
      this.isWaitedFor = true;
      await new Promise<void>((done) => (this.drained = done));
    }
    this.isWaitedFor = false;
    this.changing = change();
    try {
      await this.changing;
    } finally {
      this.changing = undefined;
    }
  }

  private async bringUp(): Promise<void> {
    const before = this.current;
    const from = performance.now();
    try {
      this.current = await this.options.bring(before, (change) => this.alone(before, change));
      this.lookedAt = from;
    } finally {
      this.isLate = false;
    }
  }

  /** Resolves when all is there that was there when this was called. What is under way may have looked before: then it is the one after. */
  private upToDate(): Promise<void> {
    const begin = (): Promise<void> => (this.bringing = this.bringUp().finally(() => (this.bringing = undefined)));
    if (!this.bringing && !this.next) return begin();
    this.next ??= this.bringing!.catch(() => undefined).then(() => {
      this.next = undefined;
      return begin();
    });
    return this.next;
  }

  /** The newest state, or the one before it where that is held by others for long, or to bring it up to date takes long. Nothing changes it until it is
   *  released.
   *  Errors: what bringing it up to date throws, where it fails within the patience.
   */
  async hold(): Promise<Hold<S>> {
    let isNewest = false;
    const upToDate = this.upToDate().then(() => void (isNewest = true));
    if (this.current === undefined) await upToDate;
    else {
      const { held, free } = this.options.patience;
      // Where it fails later than that, the next who comes is told.
      upToDate.catch(() => undefined);
      if (!this.isLate || !this.holders.has(this.current)) {
        let timer: ReturnType<typeof setTimeout> | undefined;
        const late = (done: () => void) => (): void => {
          this.isLate = true;
          done();
        };
        const patience = new Promise<void>((done) => (timer = setTimeout(late(done), this.holders.has(this.current!) ? held : free)));
        await Promise.race([upToDate, patience]).finally(() => clearTimeout(timer));
      }
    }
    while (this.changing) await this.changing.catch(() => undefined);
    const state = this.current!;
    this.holders.set(state, (this.holders.get(state) ?? 0) + 1);
    let isHeld = true;
    return {
      state,
      age: isNewest ? 0 : performance.now() - this.lookedAt,
      release: () => {
        if (!isHeld) return;
        isHeld = false;
        const left = this.holders.get(state)! - 1;
        if (left > 0) this.holders.set(state, left);
        else {
          this.holders.delete(state);
          this.drained?.();
        }
      },
    };
  }
}
