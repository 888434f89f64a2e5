/** ApexCharts, loaded only where a chart is drawn, with the accessible table behind it. */
import { lazy, Suspense } from 'react';
import type { ApexOptions } from 'apexcharts';
import { markLabel, token } from './chart-mark';
import { useInBrowser } from './use-in-browser';

const Apex = lazy(() => import('react-apexcharts'));

export interface BarPoint {
  readonly label: string;
  /** `undefined` where there is none; that is no 0. */
  readonly value: number | undefined;
  /** Drawn hatched: the period is not over. */
  readonly running?: boolean;
  /** What happened in it, written along its bar. */
  readonly mark?: string;
}

interface BarsShown {
  readonly points: readonly BarPoint[];
  readonly unit: string;
  readonly title: string;
  readonly height?: number;
  readonly format?: (n: number) => string;
}

const inWords = (n: number): string => n.toLocaleString('en-GB');

/** What only a browser can draw: its colours are those of the theme that is on. */
const Bars = ({ points, unit, height, format }: Required<Omit<BarsShown, 'title'>>) => {
  const options: ApexOptions = {
    chart: {
      type: 'bar',
      fontFamily: 'Schibsted Grotesk Variable',
      toolbar: { show: false },
      animations: { enabled: false },
      zoom: { enabled: false },
      parentHeightOffset: 0,
    },
    colors: [({ dataPointIndex }: { dataPointIndex: number }) => (points[dataPointIndex]?.running ? token('--rule') : token('--accent'))],
    plotOptions: { bar: { columnWidth: points.length > 30 ? '82%' : '58%', dataLabels: { position: 'top' } } },
    dataLabels: {
      enabled: points.length <= 14,
      formatter: (v) => (typeof v === 'number' ? format(v) : ''),
      offsetY: -18,
      style: { fontSize: '12px', fontWeight: 600, colors: [token('--ink')] },
      background: { enabled: false },
    },
    annotations: {
      xaxis: points.flatMap((p) =>
        p.mark === undefined
          ? []
          : [
              {
                x: p.label,
                borderColor: token('--ink-2'),
                strokeDashArray: 4,
                label: markLabel(p.mark),
              },
            ],
      ),
    },
    xaxis: {
      categories: points.map((p) => p.label),
      ...(points.length > 14 ? { tickAmount: 8 } : {}),
      labels: { rotate: 0, hideOverlappingLabels: true, style: { colors: token('--ink-2'), fontSize: '12px' } },
      axisBorder: { color: token('--ink') },
      axisTicks: { show: false },
    },
    yaxis: {
      title: { text: unit, style: { color: token('--ink-2'), fontWeight: 500 } },
      labels: { style: { colors: token('--ink-2') }, formatter: format },
      forceNiceScale: true,
    },
    grid: { borderColor: token('--rule'), strokeDashArray: 2, padding: { left: 6, right: 6, bottom: -4 } },
    states: { hover: { filter: { type: 'none' } } },
    tooltip: {
      theme: document.documentElement.dataset['theme'] === 'night' ? 'dark' : 'light',
      y: { formatter: (v: number | null) => (v === null ? 'no data' : `${format(v)} ${unit}`) },
    },
    legend: { show: false },
  };
  return <Apex type="bar" height={height} options={options} series={[{ name: unit, data: points.map((p) => p.value ?? null) }]} />;
};

export const BarChart = ({ points, unit, title, height = 210, format = inWords }: BarsShown) => {
  const room = <div style={{ height }} />;
  return (
    <figure>
      <div aria-hidden>
        {useInBrowser() ? (
          <Suspense fallback={room}>
            <Bars points={points} unit={unit} height={height} format={format} />
          </Suspense>
        ) : (
          room
        )}
      </div>
      <table className="sr-only">
        <caption>{title}</caption>
        <tbody>
          {points.map((p) => (
            <tr key={p.label}>
              <th>{p.label}</th>
              <td>
                {p.value === undefined ? 'no data' : format(p.value)}
                {p.mark === undefined ? '' : `; ${p.mark}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
};
