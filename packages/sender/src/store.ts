/** A place that outlives the page. Every access can fail: private windows refuse, full ones throw. */

import { safely } from './safely';

export interface Store {
  read(key: string): string | undefined;
  /** Whether it is kept now. */
  write(key: string, value: string): boolean;
  remove(key: string): void;
  keys(prefix: string): string[];
}

/** What a page or a program may keep things in, such as `localStorage`. */
export type PageStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

export const storeOf = (storage: PageStorage): Store => ({
  read: (key) => safely(() => storage.getItem(key) ?? undefined),
  write: (key, value) => safely(() => (storage.setItem(key, value), true)) ?? false,
  remove: (key) => safely(() => storage.removeItem(key)),
  keys: (prefix) =>
    safely(() =>
      Array.from({ length: storage.length }, (_, i) => storage.key(i)).filter((k): k is string => k?.startsWith(prefix) === true),
    ) ?? [],
});

/** Keeps things for as long as the process runs. */
export const memoryStore = (): Store => {
  const kept = new Map<string, string>();
  return {
    read: (key) => kept.get(key),
    write: (key, value) => (kept.set(key, value), true),
    remove: (key) => void kept.delete(key),
    keys: (prefix) => [...kept.keys()].filter((k) => k.startsWith(prefix)),
  };
};

/** The browser's own storage where there is one that can be written to. */
export const defaultStore = (): Store => {
  const storage = safely(() => localStorage as Storage | undefined);
  if (storage === undefined) return memoryStore();
  const store = storeOf(storage);
  const probe = 'signal-post/probe';
  if (!store.write(probe, '1') && store.keys('').length === 0) return memoryStore();
  store.remove(probe);
  return store;
};
