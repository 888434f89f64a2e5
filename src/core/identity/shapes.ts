/** The shapes that identifiers have, and where. */
import { entries, type Plan } from '../plan/plan';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';

export interface IdentifierShape {
  readonly kind: string;
  readonly shape: string;
  readonly count: number;
  readonly example: string;
  readonly sources: readonly string[];
}

const MAX_SHAPES = 6;

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

interface Shape {
  readonly kind: string;
  readonly shape: string;
  count: number;
  readonly example: string;
  readonly sources: Set<number>;
}

/** The shapes of all identifiers, and of each identifier; each is looked at once, when it first comes. */
const shapesIn = following(
  () => ({ byKey: new Map<string, Shape>(), ofNode: [] as Shape[] }),
  ({ byKey, ofNode }, table, from, to) => {
    for (let i = ofNode.length; i < table.nodes.length; i++) {
      const { kind, value } = table.nodes.get(i);
      const shape = shapeOf(value);
      const key = JSON.stringify([kind, shape]);
      let own = byKey.get(key);
      if (!own) byKey.set(key, (own = { kind, shape, count: 0, example: value.slice(0, 60), sources: new Set() }));
      own.count++;
      ofNode.push(own);
    }
    for (const column of table.ids.values())
      for (let row = from; row < to; row++) {
        const node = column.get(row);
        if (node >= 0) ofNode[node]!.sources.add(table.source.get(row));
      }
  },
);

/** The shape of an identifier that came. */
export const shapeOfNode = (table: MessageTable, node: number): string => shapesIn(table).ofNode[node]!.shape;

/** The most frequent shapes of each kind. */
export const shapesOf = (plan: Plan, table: MessageTable): IdentifierShape[] => {
  const shapes = [...shapesIn(table).byKey.values()];
  const kinds = [...new Set([...entries(plan, 'identifierKind').map(([, k]) => k.name), ...table.ids.keys()])];
  return kinds.flatMap((kind) =>
    shapes
      .filter((s) => s.kind === kind)
      .sort((a, b) => b.count - a.count)
      .slice(0, MAX_SHAPES)
      .map((s) => ({ ...s, sources: [...s.sources].sort((a, b) => a - b).map((x) => table.sources.values[x]!) })),
  );
};
