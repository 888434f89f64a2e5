/** The workplace: providers, the line, the station that is open, and what lies over all of them. */
import { QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query';
import { ErrorBoundary } from 'react-error-boundary';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { navigate, usePathname, useSearch } from 'wouter/use-browser-location';
import { toast } from '../../ui/toast';
import { isSameLens, lensOf, type Lens } from '../../core/table/lens';
import { COUNTED, trafficWords } from '../../core/table/traffic';
import { Button } from '../../ui/Button';
import { Broken, Failed, Loading } from '../../ui/States';
import { answerAges } from '../../client/answer-ages';
import { ask } from '../../client/api';
import { useDraft, useWorkplace, WorkplaceProvider, type WorkplaceValue } from './context';
import { addressOf, upFrom, places, placeOf, STATIONS, type Place, type StationId } from './place';
import { DraftStore } from './draft-store';
import { Header } from './Header';
import { LackingRoles } from './LackingRoles';
import { keepFocus } from '../../ui/keep-focus';
import { later, whenIdle } from '../../ui/later';
import { LintClient } from './lint-client';
import { LiveFeed } from './live-feed';
import { shortcutOf } from '../../ui/shortcuts';
import { wireNameAt } from '../../ui/wire-name';
import { usePresence } from './people';
import { MESSAGE_QUERIES } from './queries';
import { useIsCounted } from './traffic';

const ConflictDialog = later(() => import('./ConflictDialog').then((m) => m.ConflictDialog));
const FirstSteps = later(() => import('./FirstSteps').then((m) => m.FirstSteps));
const Palette = later(() => import('./Palette').then((m) => m.Palette), null, true);
const Shortcuts = later(() => import('./Shortcuts').then((m) => m.Shortcuts), null, true);
const TrafficDialog = later(() => import('./TrafficDialog').then((m) => m.TrafficDialog), null, true);

const Notes = later(() =>
  whenIdle()
    .then(() => import('../../ui/Notes'))
    .then((m) => m.Notes),
);

const PAGES = {
  questions: lazy(() => import('../questions/Questions')),
  plan: lazy(() => import('../plan/PlanStation')),
  identity: lazy(() => import('../identity/Identity')),
  'hand-off': lazy(() => import('../hand-off/HandOff')),
  arrivals: lazy(() => import('../arrivals/Arrivals')),
  clearance: lazy(() => import('../clearance/ClearanceStation')),
} as const satisfies Record<StationId, unknown>;

const readPlace = (): Place => placeOf(location);

const usePlace = (): Pick<WorkplaceValue, 'place' | 'go' | 'lookThrough'> => {
  const [pathname, search] = [usePathname(), useSearch()];
  const place = useMemo(() => placeOf({ pathname, search }), [pathname, search]);
  const show = useCallback((next: Place) => navigate(addressOf(next)), []);
  const go = useCallback((station: StationId, item?: string) => show({ station, item, lens: lensOf(location.search) }), [show]);
  const lookThrough = useCallback((lens: Lens) => show({ ...readPlace(), lens }), [show]);
  return { place, go, lookThrough };
};

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.matches('textarea, select, input:not([type="checkbox"], [type="radio"], [type="button"])'));

/** The keys that work everywhere. */
const useKeys = (openPalette: () => void, openShortcuts: () => void): void => {
  const { store, go } = useWorkplace();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const meant = shortcutOf('everywhere', e);
      if (meant === 'palette') {
        e.preventDefault();
        openPalette();
        return;
      }
      if (e.defaultPrevented || document.querySelector('[role=dialog]')) return;
      const isUndoing = meant === 'undo' || meant === 'redo';
      // In a field in which nothing is typed, and in a choice, there is nothing of its own to undo.
      if (isTyping(e.target) && !(isUndoing && (e.target as Element).matches('select,[data-undo=plan]'))) {
        // The first Escape leaves the field, the next one what is open.
        if (meant === 'back') (e.target as HTMLElement).blur();
        return;
      }
      switch (meant) {
        case 'undo':
        case 'redo': {
          e.preventDefault();
          const redo = meant === 'redo';
          const say = (label: string) => toast(`${redo ? 'Redone' : 'Undone'}: ${label}`);
          if ((redo ? store.redo(say) : store.undo(say)) === undefined) toast(`Nothing to ${redo ? 'redo' : 'undo'}.`);
          break;
        }
        case 'copyName': {
          const name = wireNameAt(document.activeElement);
          if (name !== undefined) void copyName(name);
          break;
        }
        case 'station': {
          const station = STATIONS[Number(e.key) - 1];
          if (station) go(station.id);
          break;
        }
        case 'back': {
          const up = upFrom(readPlace());
          if (up) go(...up);
          break;
        }
        case 'help':
          openShortcuts();
          break;
        default:
      }
    };
    const onTwice = (e: MouseEvent): void => {
      const name = e.target instanceof Element ? wireNameAt(e.target) : undefined;
      if (name !== undefined) void copyName(name);
    };
    addEventListener('keydown', onKey);
    addEventListener('dblclick', onTwice);
    return () => {
      removeEventListener('keydown', onKey);
      removeEventListener('dblclick', onTwice);
    };
  }, [store, go, openPalette, openShortcuts]);
};

/** Copies a name exactly, and says so. */
const copyName = async (name: string): Promise<void> => {
  try {
    await navigator.clipboard.writeText(name);
    toast(`Copied: ${name}`);
  } catch {
    toast.error('The browser did not allow copying; select the name and copy it by hand.');
  }
};

const Body = () => {
  const { place, store, go, lookThrough } = useWorkplace();
  const { plan, loadError, refusal, proposal, conflict } = useDraft();
  const queries = useQueryClient();
  const [palette, setPalette] = useState(false);
  const [shortcuts, setShortcuts] = useState(false);
  const [traffic, setTraffic] = useState(false);
  const isCounted = useIsCounted();
  useKeys(
    useCallback(() => setPalette(true), []),
    useCallback(() => setShortcuts(true), []),
  );
  useEffect(() => {
    if (refusal === undefined) return;
    toast.error(refusal, { duration: 10_000 });
    store.clearRefusal();
  }, [refusal, store]);
  useEffect(() => {
    let end: (() => void) | undefined;
    let isGone = false;
    void whenIdle()
      .then(() => import('../../ui/whole-text'))
      .then((m) => {
        if (!isGone) end = m.showWholeText();
      });
    return () => {
      isGone = true;
      end?.();
    };
  }, []);
  const Page = PAGES[place.station];
  if (!plan)
    return loadError ? <Failed what="The workplace" error={loadError} retry={() => void store.load()} /> : <Loading what="the workplace" />;
  return (
    <div className="flex h-dvh flex-col">
      <a href="#bench" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-accent focus:p-2 focus:text-accent-ink">
        Skip to the bench
      </a>
      <Header onPalette={() => setPalette(true)} onShortcuts={() => setShortcuts(true)} onTraffic={() => setTraffic(true)} />
      <LackingRoles />
      <FirstSteps />
      {isCounted ? null : (
        <p role="status" className="flex items-center gap-4 border-b border-ink bg-wash px-4 py-1">
          <span>
            Traffic shown: <b>{trafficWords(place.lens.traffic)}</b>.
          </span>
          <Button look="quiet" className="ml-auto text-sm" onClick={() => lookThrough({ ...place.lens, traffic: COUNTED })}>
            Back to production
          </Button>
        </p>
      )}
      {proposal ? (
        <p role="status" className="flex items-center gap-4 border-b border-ink bg-wash px-4 py-1">
          <span>
            You are working on the proposal <b>{proposal.name}</b>; the draft does not change.
          </span>
          <Button look="quiet" className="ml-auto text-sm" onClick={() => go(...places.proposal(proposal.id))}>
            Review it
          </Button>
          <Button look="quiet" className="text-sm" onClick={() => void store.switchTo(undefined)}>
            Back to the draft
          </Button>
        </p>
      ) : null}
      <ErrorBoundary
        resetKeys={[place.station, place.item]}
        // What was remembered may be what could not be drawn.
        onReset={() => void queries.resetQueries()}
        fallbackRender={({ error, resetErrorBoundary }) => <Broken error={error} again={resetErrorBoundary} />}
      >
        <Suspense fallback={<Loading what="the station" />}>
          <Page />
        </Suspense>
      </ErrorBoundary>
      {palette ? <Palette open onOpenChange={setPalette} /> : null}
      {shortcuts ? <Shortcuts open onOpenChange={setShortcuts} /> : null}
      {traffic ? <TrafficDialog open onOpenChange={setTraffic} /> : null}
      {conflict ? <ConflictDialog /> : null}
    </div>
  );
};

const REFRESH_MS = 700;

/** What was answered out of what was there before is asked for again, until it is of the newest. */
const useAskingAgain = (queries: QueryClient): void => {
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = (): void => {
      const ms = answerAges.againIn(Date.now());
      if (ms === undefined) return;
      timer ??= setTimeout(() => {
        timer = undefined;
        const from = Date.now();
        void queries.invalidateQueries().then(() => {
          answerAges.forgetBefore(from);
          look();
        });
      }, ms);
    };
    const end = answerAges.subscribe(look);
    return () => {
      end();
      clearTimeout(timer);
    };
  }, [queries]);
};

const Connected = () => {
  const { place, go, lookThrough } = usePlace();
  const queries = useQueryClient();
  const store = useMemo(() => new DraftStore(), []);
  const lint = useMemo(() => new LintClient(() => import('./lint-worker').then((m) => m.startLintWorker()), whenIdle()), []);
  usePresence(place);
  // What was asked through another lens is no answer.
  const { lens } = place;
  const before = useRef(lens);
  useEffect(() => {
    if (isSameLens(before.current, lens)) return;
    before.current = lens;
    void queries.resetQueries();
  }, [lens, queries]);
  useAskingAgain(queries);
  useEffect(
    () =>
      store.subscribe(() => {
        const { plan } = store.snapshot();
        if (plan) lint.want(plan);
      }),
    [store, lint],
  );
  const live = useMemo(() => {
    const due: { timer?: ReturnType<typeof setTimeout> | undefined } = {};
    const refreshNow = () => {
      for (const key of MESSAGE_QUERIES) void queries.invalidateQueries({ queryKey: [key] });
    };
    const refresh = () => {
      due.timer ??= setTimeout(() => {
        due.timer = undefined;
        refreshNow();
      }, REFRESH_MS);
    };
    return new LiveFeed(
      () => {
        void store.load();
        void queries.invalidateQueries({ queryKey: ['history'] });
        refresh();
      },
      refresh,
      () => {
        void queries.invalidateQueries({ queryKey: ['people'] });
        void queries.invalidateQueries({ queryKey: ['proposals'] });
        if (store.snapshot().proposal) void store.load();
      },
      () => {
        void store.load().then(() => {
          if (!store.snapshot().server?.recheck) refreshNow();
        });
      },
    );
  }, [queries, store]);
  useEffect(() => {
    void store.load();
    let stopped = false;
    const begin = async (): Promise<void> => {
      try {
        const recent = await ask('GET /api/messages', { query: { limit: 100 } });
        if (!stopped) live.start(recent);
      } catch {
        if (!stopped) setTimeout(() => void begin(), 1500);
      }
    };
    void begin();
    return () => {
      stopped = true;
      live.stop();
    };
  }, [store, live]);
  const value = useMemo(() => ({ store, live, lint, place, go, lookThrough }), [store, live, lint, place, go, lookThrough]);
  return (
    <WorkplaceProvider value={value}>
      <Body />
      <Notes />
    </WorkplaceProvider>
  );
};

const Workplace = () => {
  const [client] = useState(() => new QueryClient());
  useEffect(keepFocus, []);
  return (
    <QueryClientProvider client={client}>
      <Connected />
    </QueryClientProvider>
  );
};

export default Workplace;
