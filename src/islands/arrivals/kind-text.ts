/** What a message is called where it is listed. */
import { isObject } from '../../core/plan/property-path';
import type { RecordedMessage } from '../../core/arrival/live-message';

const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');

const elementText = (body: Record<string, unknown>): string => {
  const properties = body['properties'];
  return isObject(properties) && isObject(properties['element']) ? textOf(properties['element']['text']).slice(0, 60) : '';
};

export const messageTitle = ({ kind, name, body }: Pick<RecordedMessage, 'kind' | 'name' | 'body'>): string =>
  kind === 'event'
    ? name
    : kind === 'identify'
      ? 'identify call'
      : kind === 'view'
        ? `view of ${textOf(body['page'])}`
        : `interaction${elementText(body) === '' ? '' : ` “${elementText(body)}”`}${textOf(body['page']) === '' ? '' : ` on ${textOf(body['page'])}`}`;
