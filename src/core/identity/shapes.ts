/** The shapes that identifiers have, and where. */
import { entries, type Plan } from '../plan/plan';
import type { MessageTable } from '../table/message-table';

export interface IdentifierShape {
  readonly kind: string;
  readonly shape: string;
  readonly count: number;
  readonly example: string;
  readonly sources: readonly string[];
}

const MOST_SHAPES = 6;

/** The shape of an identifier: runs of digits, hexadecimal digits and letters told apart. */
export const shapeOf = (value: string): string =>
  value.length > 200
    ? 'very long'
    : value === ''
      ? 'empty'
      : value
          .replace(/(?=[0-9a-f]*[0-9])(?=[0-9a-f]*[a-f])[0-9a-f]{6,}/gi, '\u0001')
          .replace(/\d+/g, '\u0002')
          .replace(/\p{L}{2,}/gu, '\u0003')
          .replaceAll('\u0001', '‹hex›')
          .replaceAll('\u0002', '‹digits›')
          .replaceAll('\u0003', '‹letters›');

/** The most frequent shapes of each kind. */
export const shapesOf = (plan: Plan, table: MessageTable): IdentifierShape[] => {
  const sourcesOf = new Map<number, Set<number>>();
  for (const column of table.ids.values())
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      if (node < 0) continue;
      const s = table.source.get(row);
      const known = sourcesOf.get(node);
      if (!known) sourcesOf.set(node, new Set([s]));
      else known.add(s);
    }
  const shapes = new Map<string, { kind: string; shape: string; count: number; example: string; sources: Set<number> }>();
  table.nodes.forEach((n, i) => {
    const shape = shapeOf(n.value);
    const key = `${n.kind} ${shape}`;
    let own = shapes.get(key);
    if (!own) shapes.set(key, (own = { kind: n.kind, shape, count: 0, example: n.value.slice(0, 60), sources: new Set() }));
    own.count++;
    for (const s of sourcesOf.get(i) ?? []) own.sources.add(s);
  });
  const kinds = [...new Set([...entries(plan, 'identifierKind').map(([, k]) => k.name), ...table.ids.keys()])];
  return kinds.flatMap((kind) =>
    [...shapes.values()]
      .filter((s) => s.kind === kind)
      .sort((a, b) => b.count - a.count)
      .slice(0, MOST_SHAPES)
      .map((s) => ({ ...s, sources: [...s.sources].map((x) => table.sources.values[x]!) })),
  );
};
