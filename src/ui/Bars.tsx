/** A row of small bars to a common scale, for a look at how something goes over days or weeks. */
interface Bar {
  readonly value: number;
  readonly title: string;
}

const HEIGHT = 26;

export const Bars = ({
  bars,
  label,
  width = 8,
  running = false,
}: {
  bars: readonly Bar[];
  label: string;
  width?: number;
  running?: boolean;
}) => {
  const max = Math.max(...bars.map((b) => b.value), Number.MIN_VALUE);
  return (
    <svg
      width={bars.length * width}
      height={HEIGHT}
      role="img"
      aria-label={`${label}: ${bars.map((b) => b.title).join(', ')}`}
      className="shrink-0"
    >
      {bars.map((b, i) => {
        const height = b.value === 0 ? 1 : Math.max(2, (b.value / max) * HEIGHT);
        return (
          <rect
            key={i}
            x={i * width}
            y={HEIGHT - height}
            width={width - 2}
            height={height}
            fill={b.value === 0 ? 'var(--rule)' : 'var(--accent)'}
            opacity={running && i === bars.length - 1 ? 0.5 : 1}
          >
            <title>{b.title}</title>
          </rect>
        );
      })}
    </svg>
  );
};
