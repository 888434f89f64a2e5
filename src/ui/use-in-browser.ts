import { useSyncExternalStore } from 'react';

const never = (): (() => void) => () => undefined;

/** Whether this is drawn in a browser: not on the server, nor in the first drawing there, which has to be the same as the server's. */
export const useInBrowser = (): boolean =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
