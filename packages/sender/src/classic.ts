/** The sender as a script without modules: it is `signalPost` on the page, and takes over what the stub kept until it was there. */
import { CALLS } from './calls';
import { interactions, pageContext, sampling, views, type InteractionsOptions, type PageContextOptions, type ViewsOptions } from './page';
import { createSender, type AddOn, type More, type Sender, type SenderOptions } from './sender';

/** What `signalPost.start` takes: what a sender takes, and what is added to it by name. */
export interface ClassicOptions extends SenderOptions {
  readonly interactions?: boolean | InteractionsOptions;
  readonly views?: boolean | ViewsOptions;
  readonly context?: boolean | PageContextOptions;
  readonly share?: number | { readonly [event: string]: number };
}

/** A call as the stub kept it: what, when (UTC epoch ms), on which path, and with what. */
export type Kept = readonly [call: string, at: number, path: string, given: readonly unknown[]];

interface OnPage {
  readonly kept?: readonly Kept[];
  [call: string]: unknown;
}

const given = <O>(option: boolean | O | undefined, add: (o: O | undefined) => AddOn): AddOn[] =>
  option ? [add(option === true ? undefined : option)] : [];

const started = (options: ClassicOptions): Sender =>
  createSender({
    ...options,
    with: [
      ...(options.share === undefined ? [] : [sampling(options.share)]),
      ...given(options.context, pageContext),
      ...given(options.views, views),
      ...given(options.interactions, interactions),
      ...(options.with ?? []),
    ],
  });

/** A call by its name; none where there is no such. */
const callOf = (sender: Sender, call: string): ((...given: unknown[]) => unknown) | undefined =>
  (sender as unknown as Record<string, (...given: unknown[]) => unknown>)[call];

/** Where `more` is among what a call is given. */
const MORE_AT: Readonly<Record<string, number>> = { event: 2, view: 2, interaction: 1 };

/** Calls that were made before the sender was there, as of when and where they were made. */
const tell = (sender: Sender, [call, at, path, args]: Kept): void => {
  const place = MORE_AT[call];
  const all = [...args];
  if (place !== undefined) {
    const more = (all[place] ?? {}) as More;
    all[place] = { ...more, at: more.at ?? at, ...(call !== 'view' && path !== location.pathname ? { page: more.page ?? path } : {}) };
  }
  callOf(sender, call)?.(...all);
};

/** Puts the sender in the place of the stub, and tells it what that kept. Shape: what comes before the first `start` waits for it; a second one is not heard. */
export const takeOver = (page: { signalPost?: OnPage }): void => {
  const before = page.signalPost?.kept ?? [];
  let sender: Sender | undefined;
  const waiting: Kept[] = [];
  const hear = (kept: Kept): void => {
    const [call, , , args] = kept;
    if (call === 'start') {
      if (sender) return;
      sender = started(args[0] as ClassicOptions);
      for (const w of waiting) tell(sender, w);
    } else if (sender) tell(sender, kept);
    else waiting.push(kept);
  };
  const now: OnPage = {
    get sender() {
      return sender;
    },
  };
  for (const call of CALLS) now[call] = (...args: unknown[]) => (sender && call !== 'start' ? callOf(sender, call)!(...args) : hear([call, Date.now(), location.pathname, args])); // prettier-ignore
  page.signalPost = now;
  for (const kept of before) hear(kept);
};
