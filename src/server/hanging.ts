/** Nobody waits for ever while the database hangs: neither does it answer then, nor does it say that it will not. */
import { ping } from '../db/database';
import { database } from './context';

/** Times in ms. */
export interface HangPatience {
  /** So long a request may take before the database is asked whether it is there, and again each time. */
  readonly lookMs: number;
  /** So long it may take to say so. */
  readonly answerMs: number;
}

const PATIENCE: HangPatience = { lookMs: Number(process.env['SIGNAL_POST_HANG_MS']) || 10_000, answerMs: 5000 };

const answers = async (ms: number, ask: () => Promise<void>): Promise<boolean> => {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<boolean>((done) => {
    timer = setTimeout(() => done(false), ms);
    timer.unref();
  });
  try {
    return await Promise.race([ask().then(() => true, () => false), late]); // prettier-ignore
  } finally {
    clearTimeout(timer);
  }
};

/** The work's answer; where it takes long and the database does not answer anybody, `hangs()`.
 *  Shape: work that is long while the database is there is waited for. What was begun goes on, and may be done in the end: whoever asked asks again.
 */
export const unlessHanging = async <T>(
  work: Promise<T>,
  hangs: () => T,
  { lookMs, answerMs }: HangPatience = PATIENCE,
  ask: () => Promise<void> = () => ping(database()),
): Promise<T> => {
  let timer: NodeJS.Timeout | undefined;
  let isOver = false;
  const given = new Promise<T>((done) => {
    const look = (): void => {
      timer = setTimeout(() => {
        void answers(answerMs, ask).then((is) => {
          if (isOver) return;
          if (is) look();
          else done(hangs());
        });
      }, lookMs);
      timer.unref();
    };
    look();
  });
  try {
    return await Promise.race([work, given]);
  } finally {
    isOver = true;
    clearTimeout(timer);
  }
};
