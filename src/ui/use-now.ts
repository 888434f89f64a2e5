/** The time as pages show it: the same for a whole page, and moved on twice a minute, so that "2 minutes ago" stays true. */
import { useSyncExternalStore } from 'react';

const EVERY_MS = 30_000;

let now = Date.now();
let timer: ReturnType<typeof setInterval> | undefined;
const listeners = new Set<() => void>();

const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  timer ??= setInterval(() => {
    now = Date.now();
    for (const l of listeners) l();
  }, EVERY_MS);
  return () => {
    listeners.delete(listener);
    if (listeners.size > 0) return;
    clearInterval(timer);
    timer = undefined;
  };
};

/** A page that was opened long after the last look must not begin in the past. */
const snapshot = (): number => {
  if (timer === undefined && Date.now() - now > EVERY_MS) now = Date.now();
  return now;
};

/** UTC epoch ms. What happened since may be later by half a minute. */
export const useNow = (): number => useSyncExternalStore(subscribe, snapshot, snapshot);
