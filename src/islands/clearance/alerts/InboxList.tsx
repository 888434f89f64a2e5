/** The inbox: open alerts first; each is done, put off until a day, or opened again. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ask } from '../../../client/api';
import type { InboxAlert } from '../../../core/alerts/inbox';
import { standingWords } from '../../../core/alerts/standing';
import { settingsOf } from '../../../core/plan/plan';
import { dayBounds } from '../../../core/questions/calendar';
import { Age } from '../../../ui/Age';
import { Button } from '../../../ui/Button';
import { DateField } from '../../../ui/DateField';
import { dayText } from '../../../ui/format';
import { Rich } from '../../../ui/Rich';
import { Empty, Failed, Loading } from '../../../ui/States';
import { toast } from '../../../ui/toast';
import { useNow } from '../../../ui/use-now';
import { authorName } from '../../workplace/author';
import { usePlan, useWorkplace } from '../../workplace/context';
import { places } from '../../workplace/place';
import { OPEN_ALERTS } from '../../workplace/queries';

const TONE = { stop: 'text-stop', caution: 'text-caution', note: 'text-ink-2' } as const;

type How = { readonly done: true } | { readonly open: true } | { readonly snoozeUntil: number };

const Row = ({ a, now, onHandle }: { a: InboxAlert; now: number; onHandle: (how: How) => void }) => {
  const { go } = useWorkplace();
  const { timeZone, weekStartsOn } = settingsOf(usePlan());
  const isOff = a.doneAt === null && a.snoozedUntil !== null && a.snoozedUntil > now;
  const isOpen = a.doneAt === null && !isOff;
  const snooze = (day: string): void => {
    const at = dayBounds(day, timeZone)?.from;
    if (at !== undefined) onHandle({ snoozeUntil: at });
  };
  return (
    <li className={`flex items-start gap-3 border-t border-rule py-2 ${isOpen ? '' : 'text-ink-2'}`}>
      <span className="min-w-0 flex-1">
        <span className="flex gap-2 text-sm">
          <b className={isOpen ? TONE[a.severity] : ''}>{a.kind}</b>
          <span className="text-ink-2">
            <Age at={a.at} />
            {a.doneAt === null ? '' : `, done by ${a.doneBy}`}
            {isOff ? `, put off until ${dayText(a.snoozedUntil, timeZone)}` : ''}
          </span>
        </span>
        <Rich text={a.says} />
      </span>
      {a.place ? (
        <Button
          look="quiet"
          className="text-sm"
          onClick={() => go(...('question' in a.place! ? places.clearance(a.place.question) : places.finding(a.place!.finding)))}
        >
          Open
        </Button>
      ) : null}
      {isOpen ? (
        <>
          <span className="w-[128px] text-sm">
            <DateField
              label="Put off until"
              placeholder="put off until"
              value=""
              timeZone={timeZone}
              weekStartsOn={weekStartsOn}
              onChange={snooze}
            />
          </span>
          <Button className="text-sm" onClick={() => onHandle({ done: true })}>
            Done
          </Button>
        </>
      ) : (
        <Button look="quiet" className="text-sm" onClick={() => onHandle({ open: true })}>
          Open again
        </Button>
      )}
    </li>
  );
};

export const InboxList = () => {
  const now = useNow();
  const queries = useQueryClient();
  const { data, error, refetch } = useQuery({
    queryKey: ['alerts', 'inbox'],
    queryFn: async ({ signal }) => {
      const answer = await ask('GET /api/alerts', { query: {} }, signal);
      // What the list shows is what is counted beside it: the two never say different things.
      queries.setQueryData(OPEN_ALERTS, { ...answer, alerts: [] });
      return answer;
    },
    refetchInterval: 20_000,
  });
  const handle = (ids: number[] | 'all', how: How): void =>
    void ask('POST /api/alerts', { body: { ids, how, author: authorName() } }).then(
      () => queries.invalidateQueries({ queryKey: ['alerts'] }),
      (e: unknown) => toast.error((e as Error).message),
    );
  if (error && !data) return <Failed what="The inbox" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the inbox" />;
  const still = standingWords(data.standing, now);
  const told = still.map((says) => (
    <p key={says} role="alert" className="my-2 border-l-4 border-caution-fill pl-2">
      {says}
    </p>
  ));
  if (data.alerts.length === 0)
    return (
      <>
        {told}
        <Empty
          title={
            data.standing.lookedAt === null ? 'Nobody has looked yet.' : still.length === 0 ? 'Nothing to tell.' : 'Nothing was told yet.'
          }
        >
          When a signal falls, a finding opens or a sign-off falls, it is told here. Rules say what is told, and to whom by webhook or mail.
        </Empty>
      </>
    );
  return (
    <>
      {told}
      {data.open > 1 ? (
        <p className="flex justify-end py-1">
          <Button look="quiet" className="text-sm" onClick={() => handle('all', { done: true })}>
            All done
          </Button>
        </p>
      ) : null}
      <ul>
        {data.alerts.map((a) => (
          <Row key={a.id} a={a} now={now} onHandle={(how) => handle([a.id], how)} />
        ))}
      </ul>
    </>
  );
};
