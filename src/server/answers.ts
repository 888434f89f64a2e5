/** What is given to readers: pages of their own, a feed, a picture of a signal; and the tokens with which other pages read these. */
import { createHash } from 'node:crypto';
import { answerSignal } from '../core/api/answer-signal';
import { answers } from '../core/api/answers';
import { newReadToken } from '../core/api/new-read-token';
import { readTokens } from '../core/api/read-tokens';
import type { Answers, AnswerShown } from '../core/clearance/answer';
import { signalSvg } from '../core/formats/signal-svg';
import { settingsOf, type Plan } from '../core/plan/plan';
import { keptAnswers } from '../db/answer-store';
import { createReadToken, endReadToken, mayRead, readTokensOf } from '../db/read-token-store';
import { SIGNALS_SHOWN_MS, signalsSince, signOffsOf } from '../db/sign-off-store';
import { waiversOf } from '../db/waiver-store';
import { problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';
import { serve } from './serve';

/** The plan whose names and time zone a reader is shown: the newest version, or the draft before there is one. */
const planInForce = async (): Promise<{ readonly plan: Plan; readonly number: number; readonly at: number }> =>
  (await newestVersion()) ?? { plan: (await currentDraft()).plan, number: 0, at: 0 };

/** All answers, or one, as they were last worked out; with none before anybody looked. */
export const answersShown = async (questionId?: string): Promise<Answers> => {
  const [kept, { plan, number, at }] = await Promise.all([keptAnswers(database(), questionId), planInForce()]);
  const { name, timeZone } = settingsOf(plan);
  // A version without questions has nothing to be looked at.
  const none = Object.keys(plan.question).length === 0 ? { version: number, at } : { version: 0, at: 0 };
  return { workspace: name, timeZone, ...(kept ?? { ...none, answers: [] }) };
};

export const answerShown = async (questionId: string): Promise<AnswerShown> => {
  const { answers: found, ...all } = await answersShown(questionId);
  return {
    ...all,
    answer: found[0],
    weekStartsOn: settingsOf((await planInForce()).plan).weekStartsOn,
    signals: await signalsSince(database(), questionId, Date.now() - SIGNALS_SHOWN_MS),
    signOffs: await signOffsOf(database(), questionId),
    waivers: await waiversOf(database(), questionId),
  };
};

/** The published plan, for the glossary; `undefined` before anything is published. */
export const glossaryShown = async (): Promise<{ readonly plan: Plan; readonly version: number } | undefined> => {
  const version = await newestVersion();
  return version && { plan: version.plan, version: version.number };
};

/** Seconds for which nobody need ask again: a look comes every few minutes, and soon after anything came. */
const FRESH_S = 60;

const tokenOf = (request: Request, inAddress: string): string =>
  inAddress || (/^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1] ?? '');

const refused = (): Response =>
  problem(
    401,
    'no read token',
    'Send a read token as `Authorization: Bearer …`, or as `?token=…` where no header can be sent. Tokens are created in Clearance, under “Share”.',
    { 'www-authenticate': 'Bearer' },
  );

/** A text with an entity tag of what it says; 304 to whoever has it. Source: RFC 9110, 8.8.3 and 13.1.2. */
const tagged = (request: Request, text: string, type: string, at: number): Response => {
  const tag = `"${createHash('sha256').update(text).digest('base64url').slice(0, 27)}"`;
  const headers = {
    etag: tag,
    'cache-control': `private, max-age=${FRESH_S}`,
    'last-modified': new Date(at).toUTCString(),
    vary: 'authorization',
  };
  const has = (request.headers.get('if-none-match') ?? '').split(',').map((t) => t.trim().replace(/^W\//, ''));
  if (has.includes(tag) || has.includes('*')) return new Response(null, { status: 304, headers });
  return new Response(text, { headers: { 'content-type': type, ...headers } });
};

export const ANSWERS = [
  serve(answers, async ({ request, query }) => {
    if (!(await mayRead(database(), tokenOf(request, query.token)))) return refused();
    const all = await answersShown();
    if (all.version === 0)
      return problem(404, 'nothing looked at yet', 'Publish the plan; its questions are looked at within a few minutes.');
    return tagged(request, JSON.stringify(all), 'application/json; charset=utf-8', all.at);
  }),
  serve(answerSignal, async ({ request, query }) => {
    if (!(await mayRead(database(), tokenOf(request, query.token)))) return refused();
    const { answers: found, at } = await answersShown(query.question);
    if (!found[0]) return problem(404, 'no such question', 'The version in force has no question with this ID.');
    return tagged(request, signalSvg(found[0], new Date(at).toISOString()), 'image/svg+xml; charset=utf-8', at);
  }),
  serve(readTokens, () => readTokensOf(database())),
  serve(newReadToken, async ({ body }) => {
    if ('end' in body)
      return (await endReadToken(database(), body.end))
        ? { ok: true as const }
        : problem(404, 'no such token', 'This token has ended already.');
    return { token: await createReadToken(database(), body.label, body.author) };
  }),
];
