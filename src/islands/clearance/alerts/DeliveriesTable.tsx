/** What was sent by webhook and mail, and what became of it. */
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { ask } from '../../../client/api';
import type { Delivery } from '../../../core/alerts/delivery';
import { Age } from '../../../ui/Age';
import { Button } from '../../../ui/Button';
import { DataTable, type DataColumn } from '../../../ui/DataTable';
import { plural, untilText } from '../../../ui/format';
import { Rich } from '../../../ui/Rich';
import { Empty, Failed, Loading } from '../../../ui/States';
import { toast } from '../../../ui/toast';
import { useNow } from '../../../ui/use-now';

const TONE: Record<Delivery['state'], string> = { waiting: 'text-caution', delivered: 'text-clear', 'given up': 'text-stop' };

export const DeliveriesTable = () => {
  const now = useNow();
  const { data, error, refetch } = useQuery({
    queryKey: ['deliveries'],
    queryFn: ({ signal }) => ask('GET /api/deliveries', {}, signal),
    refetchInterval: 3000,
  });
  const columns = useMemo((): readonly DataColumn<Delivery>[] => {
    const again = (id: string): void =>
      void ask('POST /api/deliveries', { body: { again: id } }).then(
        () => refetch(),
        (e: unknown) => toast.error((e as Error).message),
      );
    return [
      { id: 'at', head: 'made', className: 'w-[96px] text-sm', value: (d) => d.madeAt, cell: (d) => <Age at={d.madeAt} /> },
      {
        id: 'state',
        head: 'state',
        className: 'w-[150px]',
        value: (d) => d.state,
        cell: (d) => (
          <>
            <b className={TONE[d.state]}>{d.state}</b>
            <span className="block text-sm text-ink-2">
              {d.tries === 0 ? 'not tried yet' : plural(d.tries, 'try', 'tries')}
              {d.state === 'waiting' && d.nextAt > now ? `, next ${untilText(d.nextAt, now)}` : ''}
            </span>
          </>
        ),
      },
      {
        id: 'what',
        head: 'what',
        value: (d) => d.rule,
        cell: (d) => (
          <>
            <b>{d.rule}</b> <span className="text-sm break-all text-ink-2">{d.target}</span>
            <span className="block text-sm">
              <Rich text={d.says.slice(0, 140)} />
              {d.count > 1 ? ` (and ${d.count - 1} more)` : ''}
            </span>
            {d.error ? <span className="block text-sm text-stop">{d.error}</span> : null}
          </>
        ),
      },
      {
        id: 'again',
        head: <span className="sr-only">actions</span>,
        className: 'w-[110px]',
        cell: (d) => (
          <Button look="quiet" className="text-sm" aria-label={`Send ${d.rule} again`} onClick={() => again(d.id)}>
            Send again
          </Button>
        ),
      },
    ];
  }, [now, refetch]);
  if (error && !data) return <Failed what="The deliveries" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the deliveries" />;
  if (data.length === 0)
    return <Empty title="Nothing sent yet.">What rules send by webhook or mail is listed here, with each failure.</Empty>;
  return <DataTable label="Deliveries" rows={data} columns={columns} keyOf={(d) => d.id} className="mt-2 w-full" />;
};
