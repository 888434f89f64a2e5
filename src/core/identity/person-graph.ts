/** One person as a graph: the identifiers, and the link that joined each. */
import { find, type Refusal } from './guards';
import type { Persons } from './persons';

export interface PersonGraph {
  /** Begins with the one that was asked for; at most `MOST` of them. */
  readonly identifiers: readonly {
    readonly kind: string;
    readonly value: string;
    readonly messages: number;
    /** Of this person; otherwise of somebody whom a refused link leads to. */
    readonly own: boolean;
  }[];
  readonly more: number;
  readonly links: readonly {
    /** Indices into `identifiers`. */
    readonly a: number;
    readonly b: number;
    readonly firstAt: number;
    readonly refused: Refusal | undefined;
  }[];
  /** How it came to be one person: each link that joined two parts, by time; then what was kept apart. Indices into `identifiers`. */
  readonly history: readonly {
    readonly at: number;
    readonly a: number;
    readonly b: number;
    readonly what: 'merged' | Refusal;
    /** Identifiers on either side until then. */
    readonly sides: readonly [number, number];
  }[];
  /** The device is shared, so it identifies nobody; or the identifier is a placeholder or blocked. */
  readonly nobody: 'shared device' | 'placeholder or blocked' | undefined;
}

const MAX = 40;

/** The person that a node belongs to, with what was refused at its edge: an identifier of somebody else that a message put beside. */
export const personGraph = (persons: Persons, node: number): PersonGraph => {
  const { table } = persons;
  const person = persons.personOfNode[node]!;
  const refused = new Map(persons.refused.map((r) => [r.link, r.why]));
  const own =
    person < 0 ? [node] : [node, ...[...persons.personOfNode.keys()].filter((n) => n !== node && persons.personOfNode[n] === person)];
  const edge =
    person < 0
      ? []
      : persons.refused.flatMap(({ link }) =>
          persons.personOfNode[link.a] === person ? [link.b] : persons.personOfNode[link.b] === person ? [link.a] : [],
        );
  const nodes = [...new Set([...own.slice(0, MAX), ...edge.slice(0, MAX / 4)])];
  const place = new Map(nodes.map((n, i) => [n, i]));
  const messages = new Int32Array(nodes.length);
  for (const column of table.ids.values())
    for (let row = 0; row < table.length; row++) {
      const i = place.get(column.get(row));
      if (i !== undefined) messages[i]!++;
    }
  const links = persons.links.flatMap((l) => {
    const [a, b] = [place.get(l.a), place.get(l.b)];
    return a === undefined || b === undefined ? [] : [{ a, b, firstAt: l.firstAt, refused: refused.get(l) }];
  });
  return {
    identifiers: nodes.map((n, i) => ({
      ...table.nodes.get(n),
      messages: messages[i]!,
      own: n === node || (person >= 0 && persons.personOfNode[n] === person),
    })),
    more: Math.max(0, own.length - MAX),
    links,
    history: historyOf(nodes.length, links),
    nobody: person >= 0 ? undefined : persons.shared.includes(node) ? 'shared device' : 'placeholder or blocked',
  };
};

/** The links in order of time, each with the sizes of the parts that it met; links within a part join nothing and are left out. */
const historyOf = (n: number, links: PersonGraph['links']): PersonGraph['history'] => {
  const parent = Int32Array.from({ length: n }, (_, i) => i);
  const size = new Int32Array(n).fill(1);
  return [...links]
    .sort((x, y) => x.firstAt - y.firstAt)
    .flatMap((l) => {
      const [a, b] = [find(parent, l.a), find(parent, l.b)];
      if (a === b) return [];
      const sides = [size[a]!, size[b]!] as const;
      if (l.refused === undefined) {
        parent[b] = a;
        size[a] = sides[0] + sides[1];
      }
      return [{ at: l.firstAt, a: l.a, b: l.b, what: l.refused ?? ('merged' as const), sides }];
    });
};
