/** What a page adds to a sender: what is pressed, which page is shown, where it was come from, and a share of devices for all of it. */
import type { AddOn } from './sender';
import { placeOf } from './sampled';
import { safely } from './safely';
import type { Value, Values } from './wire';
import { watchInteractions } from './interactions';

export interface InteractionsOptions {
  /** Within what; the whole document where left out. */
  readonly within?: EventTarget;
  /** Attributes of the page's own that name a part, besides `data-part`. */
  readonly attributes?: readonly string[];
}

/** Sends what is pressed, by what it says and where it is; what is written into a field is never read. */
export const interactions =
  ({ within = document, attributes = [] }: InteractionsOptions = {}): AddOn =>
  (sender) => ({
    end: watchInteractions(within, (element) => sender.interaction({ ...element }), attributes),
  });

export interface ViewsOptions {
  /** What a page is called; its path where left out. An empty name is no page. */
  readonly page?: (at: Location) => string;
}

/** Sends a view for the page that is there, and for each that an application shows without loading a page: when its name changes. */
export const views =
  ({ page = (at) => at.pathname }: ViewsOptions = {}): AddOn =>
  (sender) => {
    let shown = '';
    let ended = false;
    const look = (): void => {
      const now = ended ? '' : (safely(() => page(location)) ?? '');
      if (now === shown || now === '') return;
      shown = now;
      sender.view(now);
    };
    const listening = new AbortController();
    const own: Record<string, History['pushState']> = {};
    const others: Record<string, History['pushState']> = {};
    return {
      begin: () => {
        for (const change of ['pushState', 'replaceState'] as const) {
          const before = history[change].bind(history);
          // Somebody else's, who listens, too.
          if (Object.hasOwn(history, change)) others[change] = history[change];
          history[change] = own[change] = (...given) => {
            before(...given);
            look();
          };
        }
        for (const told of ['popstate', 'hashchange']) addEventListener(told, look, { signal: listening.signal });
        look();
      },
      end: () => {
        ended = true;
        listening.abort();
        // What was put over it since goes on calling it, which does nothing any more.
        for (const change of ['pushState', 'replaceState'] as const)
          if (history[change] === own[change]) {
            Reflect.deleteProperty(history, change);
            if (others[change]) history[change] = others[change];
          }
      },
    };
  };

export interface PageContextOptions {
  /** Parameters of the address that are sent, by the names of their properties: `{ campaign: 'c' }` sends `?c=spring` as `campaign`. No other is ever read. */
  readonly query?: { readonly [property: string]: string };
  /** What the properties are called, where not by their own names: `{ page_title: 'title' }`; an empty name leaves one out. */
  readonly names?: Partial<Record<PageProperty, string>>;
}

export type PageProperty = (typeof PAGE_PROPERTIES)[number];
/** The names of what a page says of itself, to be listed in the plan as the source's automatic properties. */
export const PAGE_PROPERTIES = ['page_title', 'page_language', 'page_referrer', 'screen_width', 'screen_height'] as const;

/** An address without its parameters, which may say whom it was sent to. */
const bare = (address: string): string | undefined => safely(() => new URL(address)) && address.split(/[?#]/)[0];

/** Says with each event and view which page it happened on, and how the page was come to. What the message says itself goes before it. */
export const pageContext =
  ({ query = {}, names = {} }: PageContextOptions = {}): AddOn =>
  () => ({
    each: (message) => {
      if (message.kind !== 'event' && message.kind !== 'view') return message;
      const said: Record<PageProperty, Value | undefined> = {
        page_title: document.title,
        page_language: document.documentElement.lang || navigator.language,
        page_referrer: bare(document.referrer),
        screen_width: screen.width,
        screen_height: screen.height,
      };
      const given = new URLSearchParams(location.search);
      const properties: Values = {
        ...Object.fromEntries(PAGE_PROPERTIES.flatMap((p) => ((names[p] ?? p) && said[p] ? [[names[p] ?? p, said[p]]] : []))),
        ...Object.fromEntries(Object.entries(query).flatMap(([p, name]) => (given.get(name) === null ? [] : [[p, given.get(name)]]))),
        ...message.properties,
      };
      return { ...message, properties };
    },
  });

/** Sends from a share of devices alone, 0..1: all messages but identify calls, or those of an event by its name. Who is left out at one share is left out at every smaller one, and each message says the share.
 *  Shape: a device is told by its anonymous ID; a message of somebody else, by a server, by its first identifier.
 */
export const sampling =
  (share: number | { readonly [event: string]: number }): AddOn =>
  (sender) => ({
    each: (message) => {
      const own = Number(typeof share === 'object' ? share[message.name ?? message.kind] : share);
      if (message.kind === 'identify' || !(own < 1)) return message;
      const ids = Object.values(message.ids);
      const who = ids.includes(sender.anonymousId) ? sender.anonymousId : (ids[0] ?? message.id);
      return placeOf(who) < own ? { ...message, sample_rate: own } : null;
    },
  });
