/** The bench: a sequence of messages played step by step, with the persons after each. */
import type { CaseStep, IdentityRules } from '../plan/plan';
import { MessageTable } from '../table/message-table';
import { resolvePersons } from './persons';

export interface RehearsalState {
  readonly persons: readonly {
    readonly identifiers: readonly { readonly kind: string; readonly value: string }[];
    /** Steps (indices) of its messages, in order of time; identify calls apart. */
    readonly messages: readonly number[];
    readonly identifyCalls: readonly number[];
  }[];
  readonly links: readonly { readonly a: string; readonly b: string; readonly refused: boolean }[];
}

const text = (n: { kind: string; value: string }): string => `${n.kind} ${n.value}`;

/** The persons after the first `upTo` steps, a minute apart. */
export const rehearse = (steps: readonly CaseStep[], upTo: number, rules: IdentityRules): RehearsalState => {
  const table = new MessageTable();
  steps.slice(0, upTo).forEach((s, i) => {
    table.append({
      seq: i + 1,
      kind: s.kind,
      name: s.name,
      sourceId: s.source,
      release: '',
      occurredAt: i * 60_000,
      ids: s.ids,
      properties: {},
    });
  });
  const result = resolvePersons(table, rules);
  const persons = Array.from({ length: result.count }, () => ({
    identifiers: [] as { kind: string; value: string }[],
    messages: [] as number[],
    identifyCalls: [] as number[],
  }));
  for (const [i, node] of [...table.nodes].entries()) persons[result.personOfNode[i]!]?.identifiers.push(node);
  for (let row = 0; row < table.length; row++) {
    const person = persons[result.personOfMessage[row]!];
    if (table.name.get(row) < 0) person?.identifyCalls.push(row);
    else person?.messages.push(row);
  }
  const refused = new Set(result.refused.map((r) => r.link));
  return {
    persons,
    links: result.links.map((l) => ({ a: text(table.nodes.get(l.a)), b: text(table.nodes.get(l.b)), refused: refused.has(l) })),
  };
};

/** The classic: views and starts under an anonymous ID, completed by the server under a new user ID, then on the client again. */
export const fourMessageCase = (names: { viewed: string; started: string; completed: string }, identify: boolean): CaseStep[] => {
  const client = { source: 'web', ids: { anonymous: 'a-71f3' } };
  return [
    { title: 'A visitor looks around', kind: 'event', name: names.viewed, ...client },
    { title: 'Starts to join', kind: 'event', name: names.started, ...client },
    { title: 'The server completes it', kind: 'event', name: names.completed, source: 'server', ids: { user: 'm-2048' } },
    ...(identify
      ? [
          {
            title: 'The client identifies',
            kind: 'identify' as const,
            name: 'identify',
            source: 'web',
            ids: { anonymous: 'a-71f3', user: 'm-2048' },
          },
        ]
      : []),
    { title: 'Goes on looking', kind: 'event', name: names.viewed, ...client },
  ];
};
