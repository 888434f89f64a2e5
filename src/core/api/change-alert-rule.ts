/** `POST /api/alert-rules`: Add, change, remove or test a rule, or have its secret shown */
import { z } from 'zod';
import { ALERT_KINDS } from '../alerts/kinds';
import { SEVERITIES } from '../findings/severity';
import { author, done, endpoint } from './endpoint';

const list = z.array(z.string().min(1).max(500)).max(1000);
const id = z.number().int().positive();

export const alertRuleShape = z.object({
  name: z.string().trim().min(1, { error: 'Give the rule a name.' }).max(100),
  active: z.boolean(),
  kinds: z.array(z.enum(ALERT_KINDS)).min(1, { error: 'Choose at least one thing that is to be told.' }),
  severity: z.enum(SEVERITIES),
  questions: list,
  events: list,
  sources: list,
  owners: list,
  by: z.enum(['inbox', 'webhook', 'mail']),
  to: z.string().trim().max(2000),
  pace: z.enum(['at once', 'daily']),
});

export const changeAlertRule = endpoint({
  method: 'POST',
  path: '/api/alert-rules',
  title: 'Add, change, remove or test a rule, or have its secret shown',
  role: 'publisher',
  answeredBy: 'analysis',
  body: z.union([
    z.object({ add: alertRuleShape, author }),
    z.object({ change: alertRuleShape, id, rev: id, author }),
    z.object({ remove: id }),
    z.object({ test: id }),
    z.object({ secretOf: id }),
  ]),
  answer: z.union([
    z.object({ id: z.number() }),
    z.object({ secret: z.string().describe('With which a receiver checks the signature.') }),
    z.object({ delivery: z.string() }),
    done,
  ]),
  errors: { 404: 'There is no such rule.', 409: 'The rule was changed meanwhile, or mail cannot be sent.' },
});
