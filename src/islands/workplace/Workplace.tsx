/** The workplace: providers, the line, the station that is open, and what lies over all of them. */
import { QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query';
import { ErrorBoundary } from 'react-error-boundary';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Toaster, toast } from 'sonner';
import type { LiveMessage } from '../../core/arrival/live-message';
import { isSameLens, lensOf, withLens, type Lens } from '../../core/table/lens';
import { COUNTED, trafficWords } from '../../core/table/traffic';
import { Button } from '../../ui/Button';
import { Broken, Failed, Loading } from '../../ui/States';
import { get } from './api';
import { ConflictDialog } from './ConflictDialog';
import { STATIONS, useDraft, useWorkplace, WorkplaceProvider, type Place, type StationId, type WorkplaceValue } from './context';
import { DraftStore } from './draft-store';
import { Header } from './Header';
import { LackingRoles } from './LackingRoles';
import { LintClient } from './lint-client';
import { startLintWorker } from './lint-worker';
import { LiveFeed } from './live-feed';
import { usePresence } from './people';
import { Palette } from './Palette';
import { MESSAGE_QUERIES } from './queries';
import { Shortcuts } from './Shortcuts';
import { TrafficDialog, useIsCounted } from './TrafficDialog';

const PAGES = {
  questions: lazy(() => import('../questions/Questions')),
  plan: lazy(() => import('../plan/PlanStation')),
  identity: lazy(() => import('../identity/Identity')),
  'hand-off': lazy(() => import('../hand-off/HandOff')),
  arrivals: lazy(() => import('../arrivals/Arrivals')),
  clearance: lazy(() => import('../clearance/ClearanceStation')),
} as const satisfies Record<StationId, unknown>;

/** What can stand in a path as it is. All else, such as the key of a finding or an address in an identifier, stands behind it as a query:
 *  a server may take a path with dots and quotation marks for a file that it does not have.
 */
const PLAIN = /^[\w:-]+$/;

const addressOf = ({ station, item, lens }: Place): string =>
  withLens(
    item === undefined ? `/${station}` : PLAIN.test(item) ? `/${station}/${item}` : `/${station}?item=${encodeURIComponent(item)}`,
    lens,
  );

const readPlace = (): Place => {
  const [, station, inPath] = location.pathname.split('/');
  const item = inPath ? decodeURIComponent(inPath) : (new URLSearchParams(location.search).get('item') ?? undefined);
  return { station: STATIONS.find((s) => s.id === station)?.id ?? 'questions', item, lens: lensOf(location.search) };
};

const usePlace = (): Pick<WorkplaceValue, 'place' | 'go' | 'lookThrough'> => {
  const [place, setPlace] = useState(readPlace);
  useEffect(() => {
    const back = () => setPlace(readPlace());
    addEventListener('popstate', back);
    return () => removeEventListener('popstate', back);
  }, []);
  const show = useCallback((next: Place) => {
    history.pushState(null, '', addressOf(next));
    setPlace(next);
  }, []);
  const go = useCallback((station: StationId, item?: string) => show({ station, item, lens: lensOf(location.search) }), [show]);
  const lookThrough = useCallback((lens: Lens) => show({ ...readPlace(), lens }), [show]);
  return { place, go, lookThrough };
};

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** The keys that work everywhere. */
const useKeys = (openPalette: () => void, openShortcuts: () => void): void => {
  const { store, go } = useWorkplace();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const command = e.ctrlKey || e.metaKey;
      const key = e.key.toLowerCase();
      if (command && key === 'k') {
        e.preventDefault();
        openPalette();
        return;
      }
      if (isTyping(e.target) || document.querySelector('[role=dialog]')) return;
      if (command && (key === 'z' || key === 'y')) {
        e.preventDefault();
        const redo = key === 'y' || e.shiftKey;
        const say = (label: string) => void toast(`${redo ? 'Redone' : 'Undone'}: ${label}`);
        if ((redo ? store.redo(say) : store.undo(say)) === undefined) toast(`Nothing to ${redo ? 'redo' : 'undo'}.`);
      } else if (!command && !e.altKey) {
        const station = STATIONS[Number(e.key) - 1];
        if (station) go(station.id);
        else if (e.key === '?') openShortcuts();
      }
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, [store, go, openPalette, openShortcuts]);
};

const Body = () => {
  const { place, store, go, lookThrough } = useWorkplace();
  const { plan, loadError, refusal, proposal } = useDraft();
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
  const Page = PAGES[place.station];
  if (!plan)
    return loadError ? <Failed what="The workplace" error={loadError} retry={() => void store.load()} /> : <Loading what="the workplace" />;
  return (
    <div className="flex h-dvh flex-col">
      <a href="#bench" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-accent focus:p-2 focus:text-accent-ink">
        To the bench
      </a>
      <Header onPalette={() => setPalette(true)} onShortcuts={() => setShortcuts(true)} onTraffic={() => setTraffic(true)} />
      <LackingRoles />
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
            You are working on the proposal <b>{proposal.name}</b>; the draft stays as it is.
          </span>
          <Button look="quiet" className="ml-auto text-sm" onClick={() => go('plan', `proposal:${proposal.id}`)}>
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
      <Palette open={palette} onOpenChange={setPalette} />
      <Shortcuts open={shortcuts} onOpenChange={setShortcuts} />
      <TrafficDialog open={traffic} onOpenChange={setTraffic} />
      <ConflictDialog />
    </div>
  );
};

const REFRESH_MS = 700;

const Connected = () => {
  const { place, go, lookThrough } = usePlace();
  const queries = useQueryClient();
  const store = useMemo(() => new DraftStore(), []);
  const lint = useMemo(() => new LintClient(startLintWorker), []);
  usePresence(place);
  // What was asked through another lens is no answer.
  const { lens } = place;
  const before = useRef(lens);
  useEffect(() => {
    if (isSameLens(before.current, lens)) return;
    before.current = lens;
    void queries.resetQueries();
  }, [lens, queries]);
  useEffect(
    () =>
      store.subscribe(() => {
        const { plan } = store.snapshot();
        if (plan) lint.want(plan);
      }),
    [store, lint],
  );
  const live = useMemo(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refreshNow = () => {
      for (const key of MESSAGE_QUERIES) void queries.invalidateQueries({ queryKey: [key] });
    };
    const refresh = () => {
      timer ??= setTimeout(() => {
        timer = undefined;
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
        const recent = await get<LiveMessage[]>('/api/messages?limit=100');
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
      <Toaster
        position="bottom-left"
        toastOptions={{ style: { borderRadius: 0, background: 'var(--ink)', color: 'var(--paper)', border: 'none' } }}
      />
    </WorkplaceProvider>
  );
};

const Workplace = () => {
  const [client] = useState(() => new QueryClient());
  return (
    <QueryClientProvider client={client}>
      <Connected />
    </QueryClientProvider>
  );
};

export default Workplace;
