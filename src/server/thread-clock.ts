/** How much a thread has worked: on a machine that has other things to do, silence says little about it. */
import { readFileSync, readlinkSync } from 'node:fs';

/** The kernel counts by hundredths of a second, whatever its own clock. Source: proc(5), USER_HZ. */
const TICK_MS = 10;
/** Places behind the name of the thread, which may hold anything, a brace too. */
const [USER, SYSTEM] = [11, 12] as const;

/** The number by which the kernel knows the thread that asks; `undefined` where there is no such thing. Source: proc(5), /proc/thread-self. */
export const ownTask = (): number | undefined => {
  try {
    return Number(/\/task\/(\d+)$/.exec(readlinkSync('/proc/thread-self'))?.[1]) || undefined;
  } catch {
    return undefined;
  }
};

/** For how long, in ms, a thread of this process has run; `undefined` where that cannot be known. Source: proc(5), /proc/pid/stat. */
export const workedMs = (task: number): number | undefined => {
  try {
    const stat = readFileSync(`/proc/self/task/${task}/stat`, 'latin1');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    const ticks = Number(fields[USER]) + Number(fields[SYSTEM]);
    return Number.isFinite(ticks) ? ticks * TICK_MS : undefined;
  } catch {
    return undefined;
  }
};
