/** What was found on messages, kept for each. */
import { storableJson, type JudgedMessage } from '../core/arrival/judged-message';
import type { Statement } from './one-message';
import { THE_WORKSPACE } from './workspace-store';

/** Keeps what was found on each message; `undefined` where there is nothing to keep. */
export const verdicts = (planVersion: number, judged: readonly JudgedMessage[]): Statement | undefined =>
  judged.length === 0
    ? undefined
    : {
        text: 'insert into verdicts select $1, $2, seq, findings from json_to_recordset($3) as t(seq bigint, findings json)',
        values: [THE_WORKSPACE, planVersion, storableJson(judged.map(({ seq, findings }) => ({ seq, findings })))],
      };
