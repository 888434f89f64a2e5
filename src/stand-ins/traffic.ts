/** Made-up visitors, one visit after another, for traffic of a given rate. */
import type { Outgoing } from './sender';
import { hex } from './parts';
import { TOOLS } from './tools';

export interface Draft {
  readonly sourceId: 'web' | 'backend' | 'payments';
  readonly message: Outgoing;
}

const pick = <T>(list: readonly T[]): T => list[Math.floor(Math.random() * list.length)]!;

/** The messages of one visit, all at once. */
export const visit = (broken: { readonly personal: boolean; readonly emailUser: boolean }): Draft[] => {
  const ids = { anonymous: `a-${hex(12)}` };
  const user = `m-9${Math.floor(Math.random() * 90_000 + 10_000)}`;
  const tool = pick(TOOLS);
  const page = `/tools/${tool.tool_id}`;
  const lent = { tool_id: tool.tool_id, branch: tool.branch };
  const request_id = `r-${hex(8)}`;
  const web = (message: Outgoing): Draft => ({ sourceId: 'web', message });
  const backend = (name: string, properties: NonNullable<Outgoing['properties']>): Draft => ({
    sourceId: 'backend',
    message: { name, ids: { user }, properties },
  });
  const out = [
    web({ name: 'Catalogue Searched', ids, properties: { query_length: 5, result_count: 3, branch: tool.branch }, page: '/search' }),
    web({ name: 'Tool Viewed', ids, properties: { ...tool }, page }),
  ];
  if (Math.random() < 0.4) return out;
  out.push(
    web({ name: 'Signed In', ids: { ...ids, user }, properties: { sign_in_method: 'card' }, page: '/account' }),
    backend('Reservation Confirmed', { request_id, ...lent }),
    web({ name: 'Reservation Requested', ids: { ...ids, user }, properties: { ...tool, request_id, loan_days: 3 }, page }),
  );
  if (Math.random() < 0.5) return out;
  const returned = { ...lent, days_kept: 4, tool_condition: 'worn' };
  out.push(
    backend('Loan Started', { ...lent, loan_days: 3 }),
    backend('Loan Returned', broken.personal ? { ...returned, damage_note: `Call ${user}@example.org` } : returned),
    {
      sourceId: 'payments',
      message: {
        name: 'Late Fee Charged',
        ids: { user: broken.emailUser ? `${user}@example.org` : user },
        properties: { late_fee: 150, currency: 'EUR' },
      },
    },
  );
  return out;
};
