/** Parts of the page whose script comes when they are needed first. */
import { lazy, Suspense, useState, type ComponentType } from 'react';

const LOOK_AGAIN_MS = 100;
/** Whoever waits for the view has it first. */
const AFTER_DRAWN_MS = 400;
/** A first view that never comes must not keep back the rest. */
const AT_LAST_MS = 8000;

/** Whether something is drawn, and nothing in it is still being loaded. */
const isDrawn = (): boolean => document.querySelector('main') !== null && document.querySelector('[data-loading]') === null;

/** When the first view has been drawn and nothing else is due. */
export const whenIdle = (): Promise<void> =>
  new Promise((done) => {
    const last = performance.now() + AT_LAST_MS;
    const look = (): void => {
      if (isDrawn() || performance.now() > last) setTimeout(done, AFTER_DRAWN_MS);
      else setTimeout(wait, LOOK_AGAIN_MS);
    };
    const wait = (): void => {
      if (typeof requestIdleCallback === 'function') requestIdleCallback(look, { timeout: 1000 });
      else setTimeout(look, LOOK_AGAIN_MS);
    };
    if (document.readyState === 'complete') wait();
    else addEventListener('load', wait, { once: true });
  });

/** A component that is loaded at its first use, or with `idle` as soon as nothing else is due: then its first use waits for nothing, so that what
 *  is typed at once is not lost. `fallback` is shown meanwhile.
 */
export const later = <P extends object>(
  load: () => Promise<ComponentType<P>>,
  fallback: React.ReactNode = null,
  idle = false,
): ComponentType<P> => {
  let found: ComponentType<P> | undefined;
  const get = async (): Promise<ComponentType<P>> => (found ??= await load());
  const Loaded = lazy(async () => ({ default: await get() }));
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- props of a lazy component are those of what it loads
  const Waiting = Loaded as unknown as ComponentType<any>;
  if (idle && typeof document !== 'undefined')
    void whenIdle()
      .then(get)
      .catch(() => undefined);
  const Later = (props: P) => {
    // One that is shown keeps what it is: another type would lose its state.
    const [Ready] = useState(() => found);
    return Ready ? (
      <Ready {...props} />
    ) : (
      <Suspense fallback={fallback}>
        <Waiting {...props} />
      </Suspense>
    );
  };
  return Later;
};
