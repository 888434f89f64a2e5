/** A table of rows that are read, sorted by the button in a column's head: up, down, and back to the order in which the rows were given. */
import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_text,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useMemo, type ReactNode } from 'react';

export interface DataColumn<Row> {
  readonly id: string;
  readonly head: ReactNode;
  /** What the head means, in a sentence. */
  readonly title?: string;
  /** What rows are sorted by: numbers from the largest, texts by letters. A column without it is not sorted. */
  readonly value?: (row: Row) => string | number | undefined;
  readonly cell: (row: Row, before: Row | undefined) => ReactNode;
  /** Numbers stand at the right. */
  readonly isNumber?: boolean;
  /** The column that names the row. */
  readonly names?: boolean;
  /** Names as they are sent. */
  readonly wire?: boolean;
  readonly className?: string;
}

interface Props<Row> {
  /** The same list for as long as it says the same. */
  readonly rows: readonly Row[];
  readonly columns: readonly DataColumn<Row>[];
  readonly keyOf: (row: Row) => string;
  readonly label?: string;
  readonly caption?: string;
  /** Rows below, such as a total. */
  readonly foot?: ReactNode;
  readonly className?: string;
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, text: sortFn_text },
});

const SORTED = { asc: 'ascending', desc: 'descending' } as const;

export function DataTable<Row extends object>({ rows, columns, keyOf, label, caption, foot, className = '' }: Props<Row>) {
  const byId = useMemo(() => new Map(columns.map((c) => [c.id, c])), [columns]);
  const shaped = useMemo(() => {
    const helper = createColumnHelper<typeof features, Row>();
    return helper.columns(
      columns.map((c) =>
        helper.accessor((row: Row) => c.value?.(row), {
          id: c.id,
          enableSorting: c.value !== undefined,
          sortUndefined: 'last',
          sortDescFirst: c.isNumber === true,
        }),
      ),
    );
  }, [columns]);
  const data = useMemo(() => [...rows], [rows]);
  const table = useTable({ features, columns: shaped, data, getRowId: keyOf });
  const sorted = table.getRowModel().rows;
  const edge = (c: DataColumn<Row> | undefined): string =>
    `pr-4 last:pr-0 ${c?.isNumber ? 'text-right' : 'text-left'} ${c?.className ?? ''}`;
  return (
    <table aria-label={label} className={`border-collapse ${className}`}>
      {caption === undefined ? null : <caption className="pb-1 text-left font-bold">{caption}</caption>}
      <thead>
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id} className="text-sm text-ink-2">
            {group.headers.map(({ column }) => {
              const c = byId.get(column.id);
              const state = column.getIsSorted();
              return (
                <th
                  key={column.id}
                  scope="col"
                  title={c?.title}
                  aria-sort={state === false ? undefined : SORTED[state]}
                  className={`align-middle font-medium ${edge(c)}`}
                >
                  {column.getCanSort() ? (
                    <button
                      type="button"
                      className={`min-h-[24px] hover:text-accent ${c?.isNumber ? 'text-right' : 'text-left'}`}
                      onClick={column.getToggleSortingHandler()}
                    >
                      {state === 'asc' ? <ArrowUp size={12} className="mr-0.5 inline" aria-hidden /> : null}
                      {state === 'desc' ? <ArrowDown size={12} className="mr-0.5 inline" aria-hidden /> : null}
                      {c?.head}
                    </button>
                  ) : (
                    c?.head
                  )}
                </th>
              );
            })}
          </tr>
        ))}
      </thead>
      <tbody>
        {sorted.map((row, i) => (
          <tr key={row.id} className="border-t border-rule align-baseline">
            {columns.map((c) => {
              const content = c.cell(row.original, sorted[i - 1]?.original);
              const look = `py-1 ${c.isNumber ? 'figures' : ''} ${c.wire ? 'wire' : ''} ${edge(c)}`;
              return c.names ? (
                <th key={c.id} scope="row" className={`font-normal ${look}`}>
                  {content}
                </th>
              ) : (
                <td key={c.id} className={look}>
                  {content}
                </td>
              );
            })}
          </tr>
        ))}
        {foot}
      </tbody>
    </table>
  );
}
