/** The head of every screen: the mark, the line with what waits at each station, the workspace and its version. */
import { Age } from '../../ui/Age';
import { Keyboard, Moon, Search, Sun } from 'lucide-react';
import { useDeferredValue, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { answerAges } from '../../client/answer-ages';
import { countBySeverity } from '../../core/findings/severity';
import type { Findings } from '../../core/api/findings';
import { lookedAt, type Looked } from '../../core/findings/looked';
import type { ShownFinding } from '../../core/lint/lint';
import { settingsOf } from '../../core/plan/plan';
import { withLens } from '../../core/table/lens';
import { trafficInShort, trafficWords } from '../../core/table/traffic';
import { count, plural, timeText } from '../../ui/format';
import { Line, type LineStation } from '../../ui/Line';
import { Signal } from '../../ui/Signal';
import { useDraft, useLint, useWorkplace } from './context';
import { STATIONS, type StationId } from './place';
import { later, whenIdle } from '../../ui/later';
import type { planWaiting as planWaitingOf } from './plan-waiting';
import { places } from './place';
import { useClearances, useFindings, useIdentity } from './queries';

const PeopleBadge = later(() =>
  whenIdle()
    .then(() => import('./PeopleBadge'))
    .then((m) => m.PeopleBadge),
);

const AlertsBadge = later(() =>
  whenIdle()
    .then(() => import('./AlertsBadge'))
    .then((m) => m.AlertsBadge),
);

type PlanWaiting = typeof planWaitingOf;
type Waiting = LineStation['waiting'];

const bySeverityText = (n: { stop: number; caution: number; note: number }): Waiting => {
  const out: { text: string; tone: 'stop' | 'caution' | 'plain' }[] = [];
  if (n.stop > 0) out.push({ text: plural(n.stop, 'stop'), tone: 'stop' });
  if (n.caution > 0) out.push({ text: plural(n.caution, 'caution'), tone: 'caution' });
  if (out.length < 2 && n.note > 0) out.push({ text: plural(n.note, 'note'), tone: 'plain' });
  return out.length > 0 ? out : [{ text: 'nothing open', tone: 'plain' }];
};

const NOT_ALL: Readonly<Record<Exclude<Looked, 'all'>, string>> = {
  'nothing arrived': 'nothing arrived',
  'not checked': 'not checked yet',
  'being checked': 'still checking',
  'one by one': 'still looking',
};

/** Where nothing is open since not all was looked at, that is what is said. */
const arrivedWaiting = (findings: Findings, looked: Looked): Waiting => {
  const open = countBySeverity(findings.groups.filter((g) => g.state === 'open'));
  const isNothing = open.stop + open.caution + open.note === 0;
  return isNothing && looked !== 'all' ? [{ text: NOT_ALL[looked], tone: 'plain' }] : bySeverityText(open);
};

const findingsWaiting = (findings: readonly ShownFinding[]): { plan: Waiting; planBroken: boolean } => {
  const found = countBySeverity(findings.filter((f) => f.path[0] !== 'question'));
  return { plan: bySeverityText(found), planBroken: found.stop > 0 };
};

const useStations = (): LineStation[] => {
  const { lens } = useWorkplace().place;
  const { plan, server } = useDraft();
  const deferred = useDeferredValue(plan);
  const lint = useLint();
  // Its script brings the formulas along, so the first view does not wait for it.
  const [planWaiting, setPlanWaiting] = useState<PlanWaiting>();
  useEffect(
    () =>
      void whenIdle()
        .then(() => import('./plan-waiting'))
        .then((m) => setPlanWaiting(() => m.planWaiting)),
    [],
  );
  const own = useMemo(
    () => (deferred ? planWaiting?.(deferred, lint.plan ? lint.findings : undefined) : undefined),
    [deferred, planWaiting, lint],
  );
  const found = useMemo(() => findingsWaiting(lint.findings), [lint]);
  const findings = useFindings().data;
  const identity = useIdentity().data;
  const clearances = useClearances().data;
  const arrived = findings && countBySeverity(findings.groups.filter((g) => g.state === 'open'));
  const judged = clearances ?? [];
  const stops = judged.filter((c) => c.signal === 'stop').length;
  const cautions = judged.filter((c) => c.signal === 'caution').length;
  const placeholders = identity?.placeholders.length ?? 0;
  const waiting: Record<StationId, { waiting: Waiting; broken: boolean }> = {
    questions: { waiting: own?.questions ?? [], broken: false },
    plan: { waiting: lint.plan ? found.plan : [], broken: found.planBroken },
    identity: {
      waiting: !identity
        ? []
        : placeholders > 0
          ? [{ text: plural(placeholders, 'stop'), tone: 'stop' }]
          : [{ text: identity.messages === 0 ? 'nothing arrived' : `${count(identity.orphans)} orphans`, tone: 'plain' }],
      broken: placeholders > 0,
    },
    'hand-off': { waiting: own?.handOff ?? [], broken: false },
    arrivals: {
      waiting:
        findings && server
          ? arrivedWaiting(findings, lookedAt(findings, { isPublished: server.published !== null, isRechecked: server.recheck === null }))
          : [],
      broken: (arrived?.stop ?? 0) > 0,
    },
    clearance: {
      waiting: clearances
        ? stops + cautions > 0
          ? [
              ...(stops > 0 ? [{ text: plural(stops, 'stop'), tone: 'stop' as const }] : []),
              ...(cautions > 0 ? [{ text: plural(cautions, 'caution'), tone: 'caution' as const }] : []),
            ]
          : [
              {
                text:
                  judged.length === 0
                    ? 'no question yet'
                    : `${count(judged.filter((c) => c.signal === 'clear').length)} of ${count(judged.length)} clear`,
                tone: 'plain',
              },
            ]
        : [],
      broken: stops > 0,
    },
  };
  return STATIONS.map((s) => ({ ...s, href: withLens(`/${s.id}`, lens), ...waiting[s.id] }));
};

const SAVING = { saved: '', saving: 'saving …', waiting: 'not saved yet, retrying' } as const;

const useTheme = (): [string, () => void] => {
  const [theme, setTheme] = useState(() => document.documentElement.dataset['theme'] ?? 'day');
  const turn = () => {
    const next = theme === 'night' ? 'day' : 'night';
    document.documentElement.dataset['theme'] = next;
    localStorage.setItem('signal-post-theme', next);
    setTheme(next);
  };
  return [theme, turn];
};

const ICON = 'text-ink-2 hover:text-accent p-1';

export const Header = ({
  onPalette,
  onShortcuts,
  onTraffic,
}: {
  onPalette: () => void;
  onShortcuts: () => void;
  onTraffic: () => void;
}) => {
  const { place, go, live } = useWorkplace();
  const { plan, server, saving } = useDraft();
  const { connected } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const [theme, turn] = useTheme();
  const stations = useStations();
  const stale = useFindings().failureCount > 0;
  const oldest = useSyncExternalStore(answerAges.subscribe, answerAges.oldest, answerAges.oldest);
  const settings = plan && settingsOf(plan);
  const published = server?.published;
  return (
    <header className="flex h-[76px] shrink-0 items-center border-b border-ink px-4">
      <span className="flex w-[138px] shrink-0 items-center gap-1.5 text-[1.12rem] font-bold whitespace-nowrap">
        <Signal state="clear" size="medium" label={null} />
        Signal Post
      </span>
      <Line stations={stations} current={place.station} onGo={(id) => go(id as StationId)} />
      <div className="w-[232px] shrink-0 text-right text-[0.86rem] leading-snug">
        <p className="flex items-center justify-end gap-1.5">
          <button
            type="button"
            title={`${settings?.name ?? ''}: its settings`}
            className="min-h-[24px] min-w-0 truncate font-bold hover:text-accent hover:underline"
            onClick={() => go(...places.plan('workspace'))}
          >
            {settings?.name}
          </button>
          <span
            title={connected ? 'Live: messages are shown as they arrive.' : 'The live stream is interrupted; reconnecting.'}
            className={`size-2 shrink-0 rounded-full ${connected ? 'bg-clear' : 'border-2 border-stop'}`}
          />
          <AlertsBadge />
          <PeopleBadge />
          <button type="button" className={ICON} aria-label="Find or do anything (Ctrl K)" onClick={onPalette}>
            <Search size={15} />
          </button>
          <button type="button" className={ICON} aria-label="Keyboard shortcuts (?)" onClick={onShortcuts}>
            <Keyboard size={15} />
          </button>
          <button type="button" className={ICON} aria-label={theme === 'night' ? 'Day theme' : 'Night theme'} onClick={turn}>
            {theme === 'night' ? <Sun size={15} /> : <Moon size={15} />}
          </button>
        </p>
        <p className="truncate text-ink-2" role="status">
          {saving === 'saved' && stale ? (
            <b className="text-caution">not up to date, retrying</b>
          ) : saving === 'saved' && oldest !== undefined ? (
            <b
              className="text-caution"
              title="The server is busy: what is shown is of the messages that were there at this time. It is asked for again until it is of the newest."
            >
              as of {timeText(oldest, settings?.timeZone ?? 'UTC')}, being renewed
            </b>
          ) : saving === 'saved' ? (
            published ? (
              <>
                version {published.number}, published <Age at={published.at} />
              </>
            ) : (
              'nothing published yet'
            )
          ) : (
            <b className="text-caution">{SAVING[saving]}</b>
          )}
        </p>
        <p className="truncate text-ink-2">
          traffic:{' '}
          <button
            type="button"
            title={`Traffic: ${trafficWords(place.lens.traffic)}. Change it.`}
            className="min-h-[24px] underline decoration-dotted hover:text-accent"
            onClick={onTraffic}
          >
            {trafficInShort(place.lens.traffic)}
          </button>
        </p>
      </div>
    </header>
  );
};
