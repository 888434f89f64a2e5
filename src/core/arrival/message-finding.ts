/** A finding on one message: its params are those of its code. */
import type { Finding } from '../findings/finding';
import type { messageChecks, valueChecks } from './checks/index';
import type { Verdict } from '../table/row-verdicts';
import type { manyChecks } from './many/index';

type OnMessage = (typeof valueChecks)[number] | (typeof messageChecks)[number];
type OverMany = (typeof manyChecks)[number];

/** What a check says its sentence about. */
type ParamsOf<Check> = Check extends { message(params: infer Params): string } ? Params : never;
/** Code and params, as they belong together. */
type SaidBy<Check> = Check extends { readonly id: infer Code extends string }
  ? { readonly code: Code; readonly params: ParamsOf<Check> }
  : never;

export type MessageSaid = SaidBy<OnMessage>;
export type ManySaid = SaidBy<OverMany>;
/** What any check says, without its words. */
export type Said = MessageSaid | ManySaid;

type FindingOf<S> = S extends { readonly code: infer Code extends string; readonly params: infer Params } ? Finding<Code, Params> : never;
export type MessageFinding = FindingOf<MessageSaid>;

/** What a stored verdict says. The checks wrote it: what is stored under a code has the params of that code. */
export const saidBy = (v: Verdict): MessageSaid => v as MessageSaid;
