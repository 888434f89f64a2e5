/** Identifiers as nodes, links as lines, persons as enclosures around them. */
import { graphlib, layout } from '@dagrejs/dagre';
import type { RehearsalState } from '../../core/identity/rehearsal';

const NODE = { width: 138, height: 34 };

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const arrange = (state: RehearsalState): { nodes: Map<string, Box>; persons: Box[]; width: number; height: number } => {
  const g = new graphlib.Graph({ compound: true });
  g.setGraph({ rankdir: 'LR', nodesep: 26, ranksep: 60, marginx: 14, marginy: 24 });
  g.setDefaultEdgeLabel(() => ({}));
  state.persons.forEach((p, i) => {
    g.setNode(`person ${i}`, {});
    for (const n of p.identifiers) {
      const id = `${n.kind} ${n.value}`;
      g.setNode(id, { ...NODE });
      g.setParent(id, `person ${i}`);
    }
  });
  for (const l of state.links) if (g.hasNode(l.a) && g.hasNode(l.b)) g.setEdge(l.a, l.b);
  layout(g);
  const boxOf = (id: string): Box => g.node(id) as Box;
  const nodes = new Map(
    state.persons.flatMap((p) => p.identifiers.map((n) => [`${n.kind} ${n.value}`, boxOf(`${n.kind} ${n.value}`)] as const)),
  );
  const persons = state.persons.map((p) => {
    const own = p.identifiers.map((n) => nodes.get(`${n.kind} ${n.value}`)!);
    const left = Math.min(...own.map((b) => b.x - b.width / 2)) - 14;
    const top = Math.min(...own.map((b) => b.y - b.height / 2)) - 14;
    return {
      x: left,
      y: top,
      width: Math.max(...own.map((b) => b.x + b.width / 2)) + 14 - left,
      height: Math.max(...own.map((b) => b.y + b.height / 2)) + 14 - top,
    };
  });
  return {
    nodes,
    persons,
    width: Math.max(320, ...persons.map((b) => b.x + b.width + 10)),
    height: Math.max(90, ...persons.map((b) => b.y + b.height + 10)),
  };
};

export const PersonGraph = ({ state }: { state: RehearsalState }) => {
  const { nodes, persons, width, height } = arrange(state);
  const text = state.persons.map((p, i) => `Person ${i + 1}: ${p.identifiers.map((n) => `${n.kind} ${n.value}`).join(', ')}`).join('. ');
  return (
    <svg
      role="img"
      aria-label={text || 'No identifier yet'}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="max-w-full"
    >
      {persons.map((b, i) => (
        <g key={i}>
          <rect {...b} rx="22" fill="var(--wash)" stroke="var(--accent)" strokeWidth="1.5" />
          <text x={b.x + 16} y={b.y - 5} fontSize="12" fontWeight="600" fill="var(--ink-2)">
            Person {i + 1}
          </text>
        </g>
      ))}
      {state.links.map((l) => {
        const a = nodes.get(l.a);
        const b = nodes.get(l.b);
        return a && b ? (
          <line
            key={`${l.a} ${l.b}`}
            x1={a.x}
            y1={a.y}
            x2={b.x}
            y2={b.y}
            stroke={l.refused ? 'var(--stop)' : 'var(--ink)'}
            strokeWidth="2"
            strokeDasharray={l.refused ? '4 4' : undefined}
          />
        ) : null;
      })}
      {[...nodes].map(([id, b]) => {
        const [kind, value] = id.split(' ');
        return (
          <g key={id}>
            <rect x={b.x - b.width / 2} y={b.y - b.height / 2} width={b.width} height={b.height} fill="var(--paper)" stroke="var(--ink)" />
            <text x={b.x} y={b.y - 3} textAnchor="middle" fontSize="10.5" fill="var(--ink-2)">
              {kind}
            </text>
            <text x={b.x} y={b.y + 11} textAnchor="middle" fontSize="12" fill="var(--ink)" fontFamily="var(--font-mono)">
              {value}
            </text>
          </g>
        );
      })}
    </svg>
  );
};
