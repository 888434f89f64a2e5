import { entries, settingsOf, SETTINGS_ID, type Plan, type Source } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly source: string;
  readonly other: string;
  readonly pair: readonly [string, string] | undefined;
}

const kindsOf = (s: Source): string[] => [...new Set([...s.idKinds.beforeSignIn, ...s.idKinds.afterSignIn])];

export const sourceNotLinked = defineRule({
  id: 'source-not-linked',
  title: 'Client vs. server with no link between them',
  why: 'The server’s events belong to persons whom no client event ever reaches: they are orphans.',
  example: {
    wrong: 'the server sends `user` alone, the web `anonymous` alone, and no rule links the two',
    right: 'the web sends both after sign-in, and a rule links them',
  },
  severity: 'stop',
  message: (p: Params) => `No rule links the identifiers of ${p.source} with those of ${p.other}: its persons will be orphaned.`,
  fix: (p: Params) => `Link ${p.pair?.join(' with ') ?? ''}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { identity } = settingsOf(plan);
    const sources = entries(plan, 'source');
    const clients = sources.filter(([, s]) => s.kind !== 'server');
    const linked = (a: string, b: string): boolean =>
      a === b || (identity.linking && identity.links.some(([x, y]) => (x === a && y === b) || (x === b && y === a)));
    for (const [id, server] of sources) {
      if (server.kind !== 'server') continue;
      const own = kindsOf(server);
      if (own.length === 0) continue;
      const client = clients.find(([, c]) => kindsOf(c).length > 0 && !own.some((a) => kindsOf(c).some((b) => linked(a, b))));
      if (!client) continue;
      const pair = [kindsOf(client[1])[0]!, own[0]!] as const;
      yield {
        path: ['source', id, 'idKinds'],
        params: { source: server.name, other: client[1].name, pair },
        fix: [
          {
            op: 'set',
            kind: 'settings',
            id: SETTINGS_ID,
            field: 'identity',
            before: identity,
            after: { ...identity, linking: true, links: [...identity.links, pair] },
          },
        ],
      };
    }
  },
});
