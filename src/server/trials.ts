/** Runs of trials: begun here, judged by the analysis, given out as files. */
import { randomUUID } from 'node:crypto';
import { beginTrial, markTrial, trialEvidence, trialRun, trialRuns, verified } from '../core/api/trials';
import { junitText } from '../core/report/junit';
import { trialMarkdown, trialReport } from '../core/report/trial-report';
import { captureLines } from '../core/trial/capture';
import { ABANDONED_MS, isAbandoned, testerText } from '../core/trial/trial-run';
import { contentHash } from '../core/plan/content-hash';
import { entityOf } from '../core/plan/plan';
import { addTrialMark, trialResults, beginTrialRun, findTrialRun, trialEvidenceOf, trialRunsOf } from '../db/trial-store';
import { analysed } from './analysis';
import { problem } from './answer';
import { callerOf } from './callers';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';
import { serve } from './serve';

const noRun = (): Response => problem(404, 'no such run', 'There is no run of this ID.');

const file = (text: string, name: string, type: string): Response =>
  new Response(text, {
    headers: { 'content-type': type, 'content-disposition': `attachment; filename="${name}"`, 'cache-control': 'no-store' },
  });

export const TRIALS = [
  serve(verified, async () => (await trialResults(database())).filter((r) => r.passed)),
  serve(trialRuns, ({ query }) => trialRunsOf(database(), query.trial)),
  serve(beginTrial, async ({ request, body: { trialId, rules, tester: given, environment, author } }) => {
    const tester = given.by === 'address' && given.value === '' ? { ...given, value: callerOf(request) } : given;
    if (tester.value === '') return problem(400, 'nobody', 'Your address is not known here; enter it, or be told by an identifier.');
    const version = await newestVersion();
    if (rules === 'published' && !version)
      return problem(409, 'nothing published', 'Nothing is published yet. Publish the plan, or try the draft.');
    const plan = rules === 'published' ? version!.plan : (await currentDraft()).plan;
    const script = entityOf(plan, 'trial', trialId);
    if (!script)
      return problem(
        404,
        'no such trial',
        rules === 'published'
          ? 'The published plan has no such trial. Publish it first, or try the draft.'
          : 'The draft has no such trial.',
      );
    if (script.steps.length === 0) return problem(409, 'no steps', 'The trial has no steps yet.');
    const id = randomUUID();
    const now = Date.now();
    const open = await beginTrialRun(
      database(),
      { id, trialId, script, rules, tester, environment, author, planVersion: version?.number ?? 0, planHash: contentHash(plan) },
      now - ABANDONED_MS,
    );
    if (open && !isAbandoned(open, now))
      return problem(
        409,
        'tester is busy',
        `${open.author} runs “${open.script.name}” as ${testerText(tester)} since ${new Date(open.startedAt).toISOString()}. End that run, or be somebody else: messages of two runs cannot be told apart.`,
      );
    return { id };
  }),
  // The mark has the moment at which it was asked for, however busy the analysis is: what the tester does next must not be before it.
  serve(markTrial, async ({ request, body: { id, step, skipped } }) => {
    const at = Date.now();
    const run = await findTrialRun(database(), id);
    if (!run) return noRun();
    if (step !== 'baseline' && step !== 'end' && !run.script.steps.some((s) => s.id === step))
      return problem(404, 'no such step', 'The trial of this run has no such step.');
    const isOver = run.marks.some((m) => m.step === 'end');
    if (isOver || !(await addTrialMark(database(), id, { step, at, ...(skipped === undefined ? {} : { skipped }) })))
      return problem(409, 'run has ended', 'The run has ended; begin another one.');
    return analysed(new Request(new URL(trialRun.path, request.url), { method: 'POST', body: JSON.stringify({ id }) }));
  }),
  serve(trialEvidence, async ({ query: { id, format } }) => {
    const run = await findTrialRun(database(), id);
    if (!run) return noRun();
    const evidence = await trialEvidenceOf(database(), id);
    if (!evidence) return problem(409, 'not ended', 'The run has not ended; its evidence is kept when it does.');
    const name = `trial-${id.slice(0, 8)}`;
    const { verdict, facts, messages } = evidence;
    switch (format) {
      case 'md':
        return file(trialMarkdown(run.script, verdict, facts), `${name}.md`, 'text/markdown; charset=utf-8');
      case 'junit':
        return file(junitText(trialReport(run.script, verdict, facts)), `${name}.xml`, 'application/xml');
      case 'ndjson':
        return file(
          captureLines(
            run,
            messages.map((m) => ({
              receivedAt: m.receivedAt,
              line: {
                id: m.messageId,
                kind: m.kind,
                name: m.name,
                time: new Date(m.occurredAt).toISOString(),
                ids: m.ids,
                properties: m.properties,
                release: m.release,
                source_id: m.sourceId,
                ...(m.kind === 'view' ? { page: m.page } : {}),
              },
            })),
          ),
          `${name}.ndjson`,
          'application/x-ndjson',
        );
      case 'json':
        return file(`${JSON.stringify({ run, ...evidence }, null, 2)}\n`, `${name}.json`, 'application/json');
    }
  }),
];
