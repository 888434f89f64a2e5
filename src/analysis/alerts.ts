/** Alerts: what happened since the last look is told, by rules; what is to be sent is sent in the background, and again where it fails. */
import { changeAlertRule } from '../core/api/change-alert-rule';
import { sendAgain as sendAgainEndpoint } from '../core/api/send-again';
import { happenedBetween, together } from '../core/alerts/happened';
import { nextDigest } from '../core/alerts/next-digest';
import { unknownToRule, type AlertRule } from '../core/alerts/rule';
import { FIRST_PAUSE_MS, pauseAfter } from '../core/alerts/retry';
import { watchedNow } from '../core/alerts/watched';
import { cloudEvent, mailHtml, mailText, subjectOf, type Delivered } from '../core/alerts/written';
import { arrivalMatrix } from '../core/arrival/matrix';
import { followUpsOf } from '../core/arrival/follow-ups';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { settingsOf } from '../core/plan/plan';
import type { PublishedPlan } from '../core/plan/version';
import { addRule, alertRules, changeRule, removeRule, secretOf } from '../db/alert-rule-store';
import { noteLook } from '../db/alert-store';
import { addDelivery, claimDelivery, nextDelivery, noteTry, sendAgain, type Claimed } from '../db/delivery-store';
import { intakeTotals } from '../db/message-store';
import { problem } from '../server/answer';
import { database } from '../server/context';
import { currentDraft } from '../server/draft';
import { log } from '../server/log';
import { canMail, HOW_TO_MAIL, mailRefused, sendMail } from '../server/mail';
import { newestVersion } from '../server/published';
import { runtime } from '../server/runtime';
import { serve } from '../server/serve';
import { sendWebhook, webhookRefusedNow, type Tried } from '../server/webhook';
import { currentFindings } from './findings';
import { defineJob } from './jobs';
import { currentWatch } from './scope';

/** Where links lead: as it is told, or where this process answers. */
const origin = (): string => (process.env['SIGNAL_POST_ORIGIN'] ?? runtime.address).replace(/\/+$/, '');

/** Tries that a process began and did not end are begun again after this; a try ends before. */
const CLAIM_S = 30;
const AT_ONCE = 16;
/** `SIGNAL_POST_RETRY_MS`: the first pause after a try that failed. */
const firstPause = (): number => Number(process.env['SIGNAL_POST_RETRY_MS']) || FIRST_PAUSE_MS;
/** A job of the queue ends well before it is given to another. */
const RUN_MS = 60_000;

const tryOnce = async (c: Claimed): Promise<Tried> => {
  const version = await newestVersion();
  const workspace = version ? settingsOf(version.plan).name : 'Signal Post';
  const d: Delivered = { id: c.id, workspace, rule: c.rule, told: c.told, at: c.madeAt };
  return c.by === 'mail'
    ? sendMail({ id: c.id, to: c.target, subject: subjectOf(d), text: mailText(d, origin()), html: mailHtml(d, origin()) })
    : sendWebhook(c.target, c.secret, c.id, JSON.stringify(cloudEvent(d, origin())));
};

const deliverOne = async (c: Claimed): Promise<void> => {
  let tried: Tried;
  try {
    tried = await tryOnce(c);
  } catch (e) {
    log.warn({ err: e, delivery: c.id }, 'a delivery');
    tried = { ok: false, status: null, error: (e as Error).message };
  }
  const pause = tried.ok ? undefined : pauseAfter(c.tries, tried.waitMs, firstPause());
  await noteTry(database(), c.id, { ...tried, nextAt: pause === undefined ? undefined : Date.now() + pause });
};

/** Sends what is due until nothing is, some at a time. */
const deliver = async (): Promise<void> => {
  const until = Date.now() + RUN_MS;
  const work = async (): Promise<void> => {
    while (Date.now() < until) {
      const c = await claimDelivery(database(), CLAIM_S);
      if (!c) return;
      await deliverOne(c);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  const next = await nextDelivery(database());
  // What is further off is left to the regular look.
  if (next !== undefined && next - Date.now() < CLAIM_S * 1000) await soon.ask(Math.max(1, Math.ceil((next - Date.now()) / 1000)));
};

const job = defineJob('deliveries', deliver, '* * * * *');
/** A queue of its own, so that what waits for its moment is not in the way of what is due now. */
const soon = defineJob('deliveries-soon', deliver);

/** Notes what happened since the last look, and has it told. */
export const lookForAlerts = async (
  version: PublishedPlan,
  clearances: readonly QuestionClearance[],
  now: number,
  plain: URL,
): Promise<void> => {
  const { plan } = version;
  const { triaged, table } = await currentFindings(plain);
  const followUps = followUpsOf(plan, arrivalMatrix(plan, table, now, await currentWatch(version)), triaged, now);
  const intake = await intakeTotals(database());
  const told = await noteLook(database(), now, nextDigest(now, settingsOf(plan).timeZone), (before, number, fallen) => {
    const watched = watchedNow({ plan, clearances, findings: triaged, followUps, intake }, before, now);
    return { watched, happened: before ? together(happenedBetween(plan, before, watched, number, fallen)) : [] };
  });
  if (told > 0) await job.ask();
};

/** What is wrong with where a rule sends. */
const refused = async (rule: AlertRule): Promise<string | undefined> =>
  rule.by === 'webhook' ? webhookRefusedNow(rule.to) : rule.by === 'mail' ? mailRefused(rule.to) : undefined;

const noRule = () => problem(404, 'no such rule', 'This rule was removed.');

export const ALERT_RULES = [
  serve(changeAlertRule, async ({ body }) => {
    if ('add' in body || 'change' in body) {
      const rule = 'add' in body ? body.add : body.change;
      const why = await refused(rule);
      if (why !== undefined) return problem(400, 'cannot be sent there', why);
      const before = 'change' in body ? (await alertRules(database())).find((r) => r.id === body.id) : undefined;
      const published = await newestVersion();
      const plans = [(await currentDraft()).plan, ...(published ? [published.plan] : [])];
      const unknown = unknownToRule(rule, plans, before);
      if (unknown !== undefined) return problem(400, 'not in the plan', unknown);
      if ('add' in body) return { id: await addRule(database(), rule, body.author) };
      if (await changeRule(database(), body.id, body.rev, rule, body.author)) return { id: body.id };
      const there = (await alertRules(database())).some((r) => r.id === body.id);
      return there
        ? problem(409, 'changed meanwhile', 'Somebody else changed this rule. Look at it as it is now, and change it again.')
        : noRule();
    }
    if ('remove' in body) return (await removeRule(database(), body.remove)) ? { ok: true as const } : noRule();
    if ('secretOf' in body) {
      const secret = await secretOf(database(), body.secretOf);
      return secret === undefined ? noRule() : { secret };
    }
    const rule = (await alertRules(database())).find((r) => r.id === body.test);
    if (!rule) return noRule();
    if (rule.by === 'inbox') return problem(400, 'nothing to send', 'This rule tells the inbox alone; there is nothing to send.');
    if (rule.by === 'mail' && !canMail()) return problem(409, 'no mail server', HOW_TO_MAIL);
    const delivery = await addDelivery(database(), rule, [{ kind: 'test', severity: 'note', says: `A test of the rule “${rule.name}”.`, link: '/clearance/alerts', at: Date.now() }], Date.now()); // prettier-ignore
    await job.ask();
    return { delivery };
  }),
  serve(sendAgainEndpoint, async ({ body }) => {
    if (!(await sendAgain(database(), body.again))) return problem(404, 'no such delivery', 'It is not kept any longer.');
    await job.ask();
    return { ok: true as const };
  }),
];
