/** Signals of questions over time, and who signed them off. */
import type { Fallen } from '../core/alerts/happened';
import type { Signal } from '../core/clearance/gate';
import type { SignOff } from '../core/clearance/sign-off';
import type { SignalSince } from '../core/clearance/sign-off-shown';
import type { NotedSignals } from '../core/clearance/since';
import { DAY_MS } from '../core/time';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

type Gates = SignOff['gates'];

const rows = ({ db }: Database) => db.selectFrom('sign_offs').selectAll().where('workspace_id', '=', THE_WORKSPACE);
type Row = Awaited<ReturnType<ReturnType<typeof rows>['execute']>>[number];

const toSignOff = (r: Row): SignOff => ({
  id: Number(r.id),
  questionId: r.question_id,
  version: r.version,
  at: r.at.getTime(),
  author: r.author,
  note: r.note,
  signal: r.signal as Signal,
  gates: r.gates,
  headline: r.headline,
  meaning: r.meaning,
  until: r.until?.getTime() ?? null,
  fellAt: r.fell_at?.getTime() ?? null,
  because: r.because,
});

/** Signals are shown for eight weeks. */
export const SIGNALS_SHOWN_MS = 57 * DAY_MS;
const MOST = 100;
const MOST_NOTED = 20_000;

/** Those of a question, newest first. */
export const signOffsOf = async (database: Database, questionId: string): Promise<SignOff[]> =>
  (await rows(database).where('question_id', '=', questionId).orderBy('id', 'desc').limit(MOST).execute()).map(toSignOff);

/** Those that hold. */
export const holdingSignOffs = async (database: Database): Promise<SignOff[]> =>
  (await rows(database).where('fell_at', 'is', null).execute()).map(toSignOff);

/** Signs a question off; whoever did so before is replaced. */
export const signOff = async ({ db }: Database, s: Omit<SignOff, 'id' | 'at' | 'fellAt' | 'because'>): Promise<void> => {
  await db.transaction().execute(async (tx) => {
    await tx
      .updateTable('sign_offs')
      .set({ fell_at: new Date(), because: `${s.author} signed it off anew.` })
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('question_id', '=', s.questionId)
      .where('fell_at', 'is', null)
      .execute();
    await tx
      .insertInto('sign_offs')
      .values({
        workspace_id: THE_WORKSPACE,
        question_id: s.questionId,
        version: s.version,
        author: s.author,
        note: s.note,
        signal: s.signal,
        gates: JSON.stringify(s.gates),
        headline: s.headline,
        meaning: s.meaning,
        until: s.until === null ? null : new Date(s.until),
      })
      .execute();
  });
};

/** Lets a sign-off fall; whether it still held. */
export const letFall = async ({ db }: Database, id: number, because: string, at = new Date()): Promise<boolean> => {
  const r = await db
    .updateTable('sign_offs')
    .set({ fell_at: at, because: because.slice(0, 2000) })
    .where('id', '=', String(id))
    .where('fell_at', 'is', null)
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};

/** Notes the signal of each question where it is another one than before. Shape: how many changed. */
export const noteSignals = async (
  database: Database,
  at: number,
  version: number,
  now: readonly { readonly questionId: string; readonly signal: Signal; readonly gates: Gates }[],
): Promise<number> => {
  const last = new Map(
    (
      await database.db
        .selectFrom('signals')
        .distinctOn('question_id')
        .select(['question_id', 'at', 'signal', 'gates'])
        .where('workspace_id', '=', THE_WORKSPACE)
        .orderBy('question_id')
        .orderBy('id', 'desc')
        .execute()
    ).map((r) => [r.question_id, r] as const),
  );
  const signalsIn = (gates: Gates): string =>
    JSON.stringify(
      Object.entries(gates)
        .map(([g, { signal }]) => [g, signal] as const)
        .sort(([a], [b]) => (a < b ? -1 : 1)),
    );
  const changed = now.filter((q) => {
    const before = last.get(q.questionId);
    // Whoever began to look earlier and is ready later tells nothing new.
    if (before && before.at.getTime() > at) return false;
    return before?.signal !== q.signal || signalsIn(before.gates) !== signalsIn(q.gates);
  });
  if (changed.length > 0)
    await database.db
      .insertInto('signals')
      .values(
        changed.map((q) => ({
          workspace_id: THE_WORKSPACE,
          question_id: q.questionId,
          at: new Date(at),
          version,
          signal: q.signal,
          gates: JSON.stringify(q.gates),
        })),
      )
      .execute();
  return changed.length;
};

/** How the signals of all questions and their gates went since a moment, by question, in the order of time. */
export const notedSignals = async ({ db }: Database, since: number): Promise<ReadonlyMap<string, readonly NotedSignals[]>> => {
  const rows = await db
    .selectFrom('signals')
    .select(['question_id', 'at', 'signal', 'gates'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('at', '>=', new Date(since))
    .orderBy('at', 'desc')
    .orderBy('id', 'desc')
    .limit(MOST_NOTED)
    .execute();
  const byQuestion = new Map<string, NotedSignals[]>();
  for (const r of rows.reverse()) {
    const noted = { at: r.at.getTime(), signal: r.signal as Signal, gates: r.gates };
    const own = byQuestion.get(r.question_id);
    if (own) own.push(noted);
    else byQuestion.set(r.question_id, [noted]);
  }
  return byQuestion;
};

/** The newest sign-off of each question, whether it holds or fell. */
export const newestSignOffs = async ({ db }: Database): Promise<ReadonlyMap<string, SignOff>> =>
  new Map(
    (
      await db
        .selectFrom('sign_offs')
        .distinctOn('question_id')
        .selectAll()
        .where('workspace_id', '=', THE_WORKSPACE)
        .orderBy('question_id')
        .orderBy('id', 'desc')
        .execute()
    ).map((r) => [r.question_id, toSignOff(r)] as const),
  );

/** The newest sign-off of each question that fell in this time, or was taken back, where none holds in its place. */
export const fallenBetween = async ({ db }: Pick<Database, 'db'>, after: Date, upTo: Date): Promise<Fallen[]> =>
  (
    await db
      .selectFrom('sign_offs as s')
      .distinctOn('s.question_id')
      .select(['s.id', 's.question_id', 's.author', 's.because'])
      .where('s.workspace_id', '=', THE_WORKSPACE)
      .where('s.fell_at', '>', after)
      .where('s.fell_at', '<=', upTo)
      .where(({ not, exists, selectFrom }) =>
        not(
          exists(
            selectFrom('sign_offs as h')
              .select('h.id')
              .whereRef('h.workspace_id', '=', 's.workspace_id')
              .whereRef('h.question_id', '=', 's.question_id')
              .where('h.fell_at', 'is', null),
          ),
        ),
      )
      .orderBy('s.question_id')
      .orderBy('s.id', 'desc')
      .execute()
  ).map((r) => ({ id: Number(r.id), questionId: r.question_id, author: r.author, because: r.because }));

/** How a question's signal went, in the order of time. */
export const signalsSince = async ({ db }: Database, questionId: string, since: number): Promise<SignalSince[]> => {
  const of = db
    .selectFrom('signals')
    .select(['at', 'signal', 'gates'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('question_id', '=', questionId);
  const before = await of.where('at', '<', new Date(since)).orderBy('id', 'desc').limit(1).execute();
  const after = await of.where('at', '>=', new Date(since)).orderBy('id').limit(5000).execute();
  return [...before, ...after].map((r) => ({
    at: r.at.getTime(),
    signal: r.signal as Signal,
    gates: Object.fromEntries(Object.entries(r.gates).map(([gate, { signal }]) => [gate, signal])),
  }));
};
