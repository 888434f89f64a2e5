/** Persons where no guard speaks are the connected components of the identifier graph.
 *  Source: packages graphology 0.26 and graphology-components 1.5; Zachary's karate club (1977) as in graphology-generators:
 *  34 nodes, 78 edges, one component.
 */
import fc from 'fast-check';
import Graph from 'graphology';
import { connectedComponents, countConnectedComponents } from 'graphology-components';
import karateClub from 'graphology-generators/social/karate-club.js';
import { expect, test } from 'vitest';
import { resolvePersons } from '../../src/core/identity/persons';
import type { IdentityRules } from '../../src/core/plan/plan';
import { RULES, tableOf } from '../build/messages';

const UNGUARDED: IdentityRules = { ...RULES, links: [['a', 'b']], maxUserIds: 0, placeholderGuard: false, sharedDeviceUsers: 0 };

const partition = (groups: readonly (readonly string[])[]): string[] => groups.map((g) => [...g].sort().join(' ')).sort();

const personsOf = (edges: readonly (readonly [string, string])[], lone: readonly string[]): string[] => {
  const table = tableOf([...edges.map(([a, b], at) => ({ at, ids: { a, b } })), ...lone.map((a) => ({ at: 0, ids: { a } }))]);
  const { personOfNode, count } = resolvePersons(table, UNGUARDED);
  const groups = Array.from({ length: count }, (): string[] => []);
  for (const [i, n] of [...table.nodes].entries()) groups[personOfNode[i]!]!.push(`${n.kind}:${n.value}`);
  return partition(groups);
};

const componentsOf = (edges: readonly (readonly [string, string])[], lone: readonly string[]): string[] => {
  const graph = new Graph({ type: 'undirected' });
  for (const [a, b] of edges) graph.mergeEdge(`a:${a}`, `b:${b}`);
  for (const a of lone) graph.mergeNode(`a:${a}`);
  return partition(connectedComponents(graph));
};

test('on random two-sided graphs the partition is the same', () => {
  const name = fc.nat(60).map((n) => `n${n}`);
  fc.assert(
    fc.property(fc.array(fc.tuple(name, name), { maxLength: 70 }), fc.array(name, { maxLength: 5 }), (edges, lone) => {
      expect(personsOf(edges, lone)).toEqual(componentsOf(edges, lone));
    }),
    { seed: 9, numRuns: 200 },
  );
});

test('the karate club is one person', () => {
  const club = karateClub(Graph);
  expect([club.order, club.size, countConnectedComponents(club)]).toEqual([34, 78, 1]);
  // Each member carries an identifier of either kind, and the two are linked.
  const edges = [...club.nodes().map((n) => [n, n] as const), ...club.mapEdges((_e, _a, s, t) => [s, t] as const)];
  expect(personsOf(edges, [])).toHaveLength(1);
});
