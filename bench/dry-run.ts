/** A dry run of one property's type over HTTP, against reading the messages of the events that carry it and checking them, and nothing else, in the
 *  same run. The answer first: as many messages are found as that check finds. Goal: at most twice as long.
 */
import assert from 'node:assert/strict';
import { compileChecker } from '../src/core/arrival/compile';
import { readMessage } from '../src/core/arrival/message';
import { applyEdits, setField } from '../src/core/plan/edit';
import { entries, type Plan } from '../src/core/plan/plan';
import { carriersOf } from '../src/core/plan/plan-index';
import type { DryRun } from '../src/core/scenario/dry-run';
import { openDatabase } from '../src/db/database';
import { messagesToJudge } from '../src/db/message-store';
import { goal, measure, size } from './measure';
import { served } from './served';

const VISITORS = size(Number(process.env['TRIED'] ?? 60_000), 300);
const MAX = 2;
const ROUNDS = 3;
const PAGE = 5000;

export const benchDryRun = (): Promise<boolean> =>
  served(
    4810,
    async ({ base, client }) => {
      const { plan } = (await (await fetch(`${base}/api/workplace`)).json()) as { plan: Plan };
      const [id] = entries(plan, 'property').find(([, p]) => p.name === 'loan_days')!;
      const edit = setField(plan, 'property', id, 'type', 'boolean')!;
      const after = applyEdits(plan, [edit]);
      assert(after.ok);
      const names = new Set(carriersOf(plan, id).map((e) => plan.event[e]!.name));
      const database = openDatabase(process.env['BENCH_DATABASE_URL']!);
      const last = Number((await client.query<{ n: string }>('select max(seq) as n from messages')).rows[0]!.n);
      const check = async (): Promise<number> => {
        const checker = compileChecker(after.plan);
        let found = 0;
        for (let seq = 0; ;) {
          const page = await messagesToJudge(database, { after: seq, upTo: last, limit: PAGE, names: [...names] });
          for (const m of page) {
            const read = readMessage(m.body);
            if (read.ok && checker.check(read.message).some((f) => f.code === 'wrong-type' && f.path.at(-1) === 'loan_days')) found++;
          }
          if (page.length < PAGE) return found;
          seq = page.at(-1)!.seq;
        }
      };
      const dryRun = async (): Promise<DryRun> => {
        const r = await fetch(`${base}/api/dry-run?traffic=*.marked`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ edits: [edit] }),
        });
        const lines = (await r.text()).trim().split('\n');
        const { answer, ...else_ } = JSON.parse(lines.at(-1)!) as { answer?: DryRun };
        assert(answer, JSON.stringify(else_));
        return answer;
      };
      for (let i = 0; i < 600; i++) {
        const r = await fetch(`${base}/api/dry-run`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
        await r.body?.cancel();
        if (r.status === 200) break;
        await new Promise((next) => setTimeout(next, 500));
      }
      const wanted = await check();
      const said = await dryRun();
      const of = said.findings.filter((f) => f.key.includes('"wrong-type"') && f.key.includes('loan_days') && f.after > 0);
      assert.equal(
        of.reduce((n, f) => n + f.after, 0),
        wanted,
      );
      const t = await measure(
        [
          { name: 'check', run: async () => void (await check()) },
          { name: 'dry run', run: async () => void (await dryRun()) },
        ],
        ROUNDS,
      );
      console.log(
        `${last.toLocaleString('en-GB')} messages, ${wanted.toLocaleString('en-GB')} found; check ${t.get('check')!.toFixed(0)} ms, dry run ${t.get('dry run')!.toFixed(0)} ms`,
      );
      await database.pool.end();
      return goal(
        `a dry run of one property's type: ${MAX} times a check of its messages alone, over the dry run`,
        (MAX * t.get('check')!) / t.get('dry run')!,
        1,
      );
    },
    VISITORS,
  );
