import { entries, sessionGapMs } from '../../plan/plan';
import { signedInStretches } from '../../identity/signed-in';
import { usableNodes, usersPerNode } from '../../identity/node-facts';
import { personRulesOf } from '../../identity/person-rules';
import { wilson } from '../../stats/wilson';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';

export interface UserIdDropped {
  readonly kind: string;
  readonly dropped: number;
  readonly messages: number;
}

export const userIdDropped = defineManyCheck({
  id: 'user-id-dropped',
  on: 'many',
  title: 'User ID dropped while signed in',
  why: 'What is sent without it may stay with another person, or with nobody.',
  example: { wrong: 'messages without the user ID between sign-in and sign-out', right: 'the user ID on each of them' },
  method:
    'Client messages from a message with a user ID to the sign-out, or to the end of the session. By source and release: the low end of the interval must be above what may lack it. Source: Wilson 1927 for the interval.',
  severity: 'caution',
  shows: 'ids',
  parameters: {
    share: { title: 'Share of a release’s messages while signed in that may lack it', unit: '%', value: 2, min: 0, max: 100 },
    min: { title: 'Minimum messages without it', unit: 'messages', value: 10, min: 1, max: 1_000_000, whole: true },
  },
  fixer: () => 'source',
  expected: (p: UserIdDropped) => `a ${p.kind} ID on each message from sign-in to sign-out`,
  received: (p: UserIdDropped) => `none, or a placeholder, on ${share(p)} of them`,
  message: (p: UserIdDropped) =>
    `lack the ${p.kind} ID, or carry a placeholder in its place, while somebody is signed in: ${share(p)} of ${p.messages.toLocaleString('en-GB')}`,
  cause: () => 'The ID is not kept over a page or a restart, or is asked for before it is there.',
  fix: (p: UserIdDropped) => `Keep the ${p.kind} ID from sign-in to sign-out and send it with every message.`,
  find({ plan, people: { table } }, { share: max, min }) {
    const out: ManyFound<UserIdDropped>[] = [];
    const rules = personRulesOf(plan);
    const usable = usableNodes(table, rules);
    // A device that several people use is signed in and out of all the time.
    const shared = usersPerNode(table, usable).keys();
    const servers = entries(plan, 'source').flatMap(([id, source]) => (source.kind === 'server' ? [id] : []));
    const { dropped } = signedInStretches(table, servers, shared, sessionGapMs(plan), rules);
    for (const d of dropped) {
      if (d.dropped < min || wilson(d.dropped, d.messages)!.low * 100 <= max) continue;
      const cause = new Cause(table);
      cause.outOf = d.messages;
      for (const row of d.rows) cause.add(row);
      out.push({
        params: { kind: table.userKind, dropped: d.dropped, messages: d.messages },
        eventName: '',
        field: `ids.${table.userKind}`,
        sourceId: d.sourceId,
        ...cause.found(),
      });
    }
    return out;
  },
});

const share = (p: UserIdDropped): string => `${((100 * p.dropped) / p.messages).toFixed(1)} %`;
