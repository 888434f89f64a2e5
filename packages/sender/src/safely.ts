/** What some work gives, of others or of the device; `undefined` where it throws. */
export const safely = <T>(work: () => T): T | undefined => {
  try {
    return work();
  } catch {
    return undefined;
  }
};
