/** A line over time with the band that was to be expected, and marks of what happened in between. */
import { lazy, Suspense } from 'react';
import type { ApexOptions } from 'apexcharts';
import { markLabel, token } from './chart-mark';

const Apex = lazy(() => import('react-apexcharts'));

export interface BandPoint {
  /** UTC epoch ms. */
  readonly at: number;
  readonly value: number;
  readonly band: readonly [number, number] | undefined;
  /** Drawn as a mark of its own. */
  readonly off: boolean;
}

export interface BandMark {
  readonly at: number;
  readonly text: string;
  /** Drawn as a whole line rather than a dashed one. */
  readonly strong: boolean;
}

export const BandChart = ({
  points,
  marks,
  unit,
  dayText,
  height = 320,
}: {
  points: readonly BandPoint[];
  marks: readonly BandMark[];
  unit: string;
  dayText: (at: number) => string;
  height?: number;
}) => {
  const whole = (n: number): string => Math.round(n).toLocaleString('en-GB');
  const options: ApexOptions = {
    chart: {
      type: 'rangeArea',
      fontFamily: 'Schibsted Grotesk Variable',
      toolbar: { show: false },
      animations: { enabled: false },
      zoom: { enabled: false },
      parentHeightOffset: 0,
    },
    colors: [token('--ink-2'), token('--accent')],
    fill: { opacity: [0.16, 1] },
    stroke: { curve: 'straight', width: [0, 2.5] },
    dataLabels: { enabled: false },
    markers: {
      size: 0,
      discrete: points.flatMap((p, i) =>
        p.off
          ? [
              {
                seriesIndex: 1,
                dataPointIndex: i,
                size: 7,
                fillColor: token('--stop'),
                strokeColor: token('--paper'),
                shape: 'diamond' as never,
              },
            ]
          : [],
      ),
    },
    annotations: {
      xaxis: marks.map((m) => ({
        x: m.at,
        borderColor: token(m.strong ? '--accent' : '--ink-2'),
        strokeDashArray: m.strong ? 0 : 4,
        label: markLabel(m.text),
      })),
    },
    xaxis: {
      type: 'datetime',
      labels: {
        datetimeUTC: false,
        style: { colors: token('--ink-2'), fontSize: '12px' },
        formatter: (_: string, at?: number) => dayText(at ?? 0),
      },
      axisBorder: { color: token('--ink') },
      axisTicks: { show: false },
      tooltip: { enabled: false },
    },
    yaxis: {
      min: 0,
      title: { text: unit, style: { color: token('--ink-2'), fontWeight: 500 } },
      labels: { style: { colors: token('--ink-2') }, formatter: whole },
      forceNiceScale: true,
    },
    grid: { borderColor: token('--rule'), strokeDashArray: 2, padding: { left: 6, right: 12, bottom: -4 } },
    tooltip: {
      theme: document.documentElement.dataset['theme'] === 'night' ? 'dark' : 'light',
      shared: true,
      intersect: false,
      x: { formatter: (at: number) => dayText(at) },
    },
    legend: { show: false },
  };
  const series = [
    {
      name: 'usual',
      type: 'rangeArea',
      data: points.map((p) => ({ x: p.at, y: p.band ? [Math.round(p.band[0]), Math.round(p.band[1])] : [null, null] })),
    },
    { name: unit, type: 'line', data: points.map((p) => ({ x: p.at, y: p.value })) },
  ];
  return (
    <div aria-hidden>
      <Suspense fallback={<div style={{ height }} />}>
        <Apex type="rangeArea" height={height} options={options} series={series} />
      </Suspense>
    </div>
  );
};
