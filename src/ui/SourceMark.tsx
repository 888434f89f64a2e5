/** A source's own mark: its letter in a shape. The shape follows the kind of source. */
const SHAPES = {
  web: <rect x="1.5" y="1.5" width="17" height="17" />,
  mobile: <circle cx="10" cy="10" r="8.8" />,
  kiosk: <path d="M10 .8 19.2 10 10 19.2.8 10z" />,
  server: <path d="M5.4 1.5h9.2l4.6 8.5-4.6 8.5H5.4L.8 10z" />,
} as const;

export const SourceMark = ({ letter, kind, name }: { letter: string; kind: keyof typeof SHAPES; name: string }) => (
  // Without a name it is an ornament beside the name.
  <svg
    width="20"
    height="20"
    viewBox="0 0 20 20"
    {...(name === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': name })}
    className="inline-block shrink-0 align-[-4px]"
  >
    {name === '' ? null : <title>{name}</title>}
    <g fill="none" stroke="var(--ink)" strokeWidth="1.2">
      {SHAPES[kind]}
    </g>
    <text x="10" y="13.6" textAnchor="middle" fontSize="10" fontWeight="700" fill="var(--ink)" fontFamily="var(--font-mono)">
      {letter}
    </text>
  </svg>
);
