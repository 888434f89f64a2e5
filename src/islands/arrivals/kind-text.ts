/** What a message is called where it is listed. */
import type { RecordedMessage } from '../../core/arrival/live-message';

const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');

export const messageTitle = ({ kind, name, body }: Pick<RecordedMessage, 'kind' | 'name' | 'body'>): string =>
  kind === 'event'
    ? name
    : kind === 'identify'
      ? 'identify call'
      : kind === 'view'
        ? `view of ${textOf(body['page'])}`
        : `interaction${textOf(body['page']) === '' ? '' : ` on ${textOf(body['page'])}`}`;
