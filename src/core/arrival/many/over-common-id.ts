import { entries } from '../../plan/plan';
import { messagesOfNodes, usableNodes, usersPerNode } from '../../identity/node-facts';
import { personRulesOf } from '../../identity/person-rules';
import { masked } from '../personal-data';
import { CausesBySource, defineManyCheck, type ManyFound } from '../check-many';

export interface OverCommonId {
  readonly kind: string;
  readonly value: string;
  readonly messages: number;
  /** Messages that most identifiers of its kind have at most. */
  readonly usual: number;
}

export const overCommonId = defineManyCheck({
  id: 'over-common-id',
  on: 'many',
  title: 'Identifier on too many messages',
  why: 'An identifier on an absurd share of messages is a placeholder, a robot or a test: it makes many people one.',
  example: { wrong: 'one user ID on a tenth of all messages', right: 'at most some hundreds of messages for each user ID' },
  method:
    'Against the busiest hundredth of its kind, so that neither few people nor busy ones are taken for it. What the rules leave out anyway, and devices that several people use, have findings of their own. Source: own definition.',
  severity: 'caution',
  shows: 'ids',
  parameters: {
    min: { title: 'Minimum messages to report', unit: 'messages', value: 200, min: 10, max: 10_000_000, whole: true },
    share: { title: 'Minimum share of messages with its kind', unit: '%', value: 2, min: 0.1, max: 100 },
    times: { title: 'Times the messages of the busiest hundredth of its kind', unit: '', value: 10, min: 2, max: 10_000 },
  },
  variant: (p: OverCommonId) => p.value,
  fixer: () => 'source',
  expected: (p: OverCommonId) => `at most about ${p.usual.toLocaleString('en-GB')} messages with one ${p.kind} ID`,
  received: (p: OverCommonId) => p.messages.toLocaleString('en-GB'),
  message: (p: OverCommonId) =>
    `carry “${p.value}” as their ${p.kind} ID, ${p.messages.toLocaleString('en-GB')} of them, where ninety-nine of a hundred have at most ${p.usual.toLocaleString('en-GB')}`,
  cause: () => 'It identifies nobody in particular: a robot, a test, or a default value.',
  fix: (p: OverCommonId) => `Find out what sends “${p.value}”; block it in the identity rules, or mark its traffic.`,
  find({ plan, people: { table } }, { min, share, times }) {
    const out: ManyFound<OverCommonId>[] = [];
    const usable = usableNodes(table, personRulesOf(plan));
    const severalUsers = usersPerNode(table, usable);
    const publicSources = entries(plan, 'source').flatMap(([id, s]) => (s.kind === 'kiosk' ? [id] : []));
    const messagesOf = messagesOfNodes(table, publicSources);
    for (const [kind, column] of table.ids) {
      const nodes = table.nodes.ofKind(kind);
      let all = 0;
      for (const node of nodes) all += messagesOf[node]!;
      const suspects: [node: number, n: number][] = [];
      for (const node of nodes) {
        const n = messagesOf[node]!;
        if (n >= min && n > (all * share) / 100 && usable[node] === 1 && !severalUsers.has(node)) suspects.push([node, n]);
      }
      if (suspects.length === 0) continue;
      const sizes = Int32Array.from(nodes, (node) => messagesOf[node]!)
        .filter((n) => n > 0)
        .sort();
      if (suspects.length > sizes.length / 20) continue;
      // What is usual is what those have that are not suspected.
      const usual = sizes[Math.min(sizes.length - suspects.length - 1, Math.floor(sizes.length * 0.99))] ?? 0;
      for (const [node, n] of suspects) {
        if (n < usual * times) continue;
        const causes = new CausesBySource(table);
        for (let row = 0; row < column.length; row++) if (column.get(row) === node) causes.of(row).add(row);
        causes.ofAll();
        for (const found of causes.found())
          out.push({
            params: { kind, value: masked(table.nodes.valueOf(node).slice(0, 60)), messages: n, usual },
            eventName: '',
            field: `ids.${kind}.${node}`,
            ...found,
          });
      }
    }
    return out;
  },
});
