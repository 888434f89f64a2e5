import { entries } from '../../plan/plan';
import { cubeOf } from '../../table/cube';
import { following } from '../../table/following';
import { defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { waitForSource } from '../waiting';

export interface NoUserId {
  readonly watchedMs: number;
  readonly messages: number;
  readonly state: 'waiting' | 'fault';
}

/** By the source's index: whether a user ID ever came from it. */
const withUserId = following(
  () => new Set<number>(),
  (seen, table, from, to) => {
    const user = table.ids.get(table.userKind);
    if (!user) return;
    for (let row = from; row < to; row++) if (user.get(row) >= 0) seen.add(table.source.get(row));
  },
);

export const noUserId = defineManyCheck({
  id: 'no-user-id',
  on: 'many',
  title: 'No user ID received',
  why: 'Without it everybody stays as many persons as they have devices.',
  example: {
    wrong: 'a source with 5,000 messages and no user ID in three days',
    right: 'a source whose messages carry the user ID after sign-in',
  },
  method: 'Sources that can carry the user ID once somebody is signed in, by the plan.',
  severity: 'caution',
  parameters: {
    min: { title: 'Minimum messages of a source to judge', unit: 'messages', value: 100, min: 1, max: 1_000_000, whole: true },
  },
  fixer: () => 'source',
  expected: () => 'a user ID on what comes after sign-in',
  received: (p: NoUserId) => `none on ${p.messages.toLocaleString('en-GB')} messages`,
  message: (p: NoUserId) =>
    `carry no user ID, none of ${p.messages.toLocaleString('en-GB')} in ${roughSpan(p.watchedMs)}${p.state === 'waiting' ? '; nobody may have signed in yet' : ''}`,
  cause: (p: NoUserId) =>
    p.state === 'waiting' ? 'Nobody may have signed in yet.' : 'The source was not asked for it, or sends it elsewhere.',
  fix: () =>
    'First look whether figures count devices only: under that basis no user ID shows. Then send `ids.user` with all that comes after sign-in.',
  find(c, { min }) {
    const { plan, people, now } = c;
    const { table } = people;
    const out: ManyFound<NoUserId>[] = [];
    for (const [sourceId, source] of entries(plan, 'source')) {
      const index = table.sources.find(sourceId);
      if (index < 0 || !source.idKinds.afterSignIn.includes(table.userKind) || withUserId(table).has(index)) continue;
      const own = [...cubeOf(table)].filter((c) => c.source === index);
      const messages = own.reduce((n, c) => n + c.messages, 0);
      const wait = waitForSource({ ...c, table }, sourceId);
      if (messages < min || !wait || wait.state === 'too early') continue;
      const { state, since, lastedMs: watchedMs } = wait;
      out.push({
        params: { watchedMs, messages, state },
        eventName: '',
        field: 'ids.user',
        sourceId,
        releases: [...new Set(own.map((c) => table.releases.values[c.release]!))],
        count: messages,
        outOf: messages,
        firstAt: since,
        lastAt: now,
        rows: [],
        ...(state === 'waiting' ? { severity: 'note' as const } : {}),
      });
    }
    return out;
  },
});
