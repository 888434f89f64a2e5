/** The inbox, the rules and what was sent, as they are read. */
import { alertRules } from '../core/api/alert-rules';
import { alerts } from '../core/api/alerts';
import { deliveries } from '../core/api/deliveries';
import { handleAlerts } from '../core/api/handle-alerts';
import { alertRules as rules } from '../db/alert-rule-store';
import { handleAlerts as handle, inbox } from '../db/alert-store';
import { deliveries as sent } from '../db/delivery-store';
import { problem } from './answer';
import { database } from './context';
import { canMail, HOW_TO_MAIL } from './mail';
import { runtime } from './runtime';
import { serve } from './serve';
import { mailboxAsked } from './stand-in-post';
import { RECEIVER } from './webhook';

export const ALERTS = [
  serve(alerts, ({ query }) => inbox(database(), Date.now(), query.limit)),
  serve(handleAlerts, async ({ body: { ids, how, author } }) => {
    if ('snoozeUntil' in how && how.snoozeUntil <= Date.now()) return problem(400, 'day gone by', 'Choose a later day to be told again.');
    return { handled: await handle(database(), ids, 'done' in how ? { done: author } : how) };
  }),
  serve(alertRules, async () => ({
    rules: await rules(database()),
    noMail: canMail() ? null : HOW_TO_MAIL,
    receiver: runtime.address === '' ? null : runtime.address + RECEIVER,
    mailbox: mailboxAsked() ? '/stand-ins/mailbox' : null,
  })),
  serve(deliveries, () => sent(database())),
];
