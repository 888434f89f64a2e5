/** Says that what signals hang on may have changed: to whoever looks at them, which itself hangs on what says so. */
let ask: () => void = () => undefined;

export const signalsMayDiffer = (): void => ask();

export const whenSignalsMayDiffer = (then: () => void): void => {
  ask = then;
};
