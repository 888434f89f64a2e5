/** Messages for the live view. */
import { answering, json, problem } from './answer';
import { bySeq, liveStream, newest } from './live';

const MOST = 500;

/** `GET /api/messages`: `seq=1,2,3` those messages, else the newest (`limit`, at most 500). Newest first. */
export const messages = (url: URL): Promise<Response> =>
  answering(async () => {
    const seqs = url.searchParams.get('seq');
    if (seqs !== null) {
      const list = seqs.split(',').map(Number);
      if (list.some((n) => !Number.isSafeInteger(n)) || list.length > MOST)
        return problem(400, 'wrong seq', 'Give up to 500 whole numbers, separated by commas.');
      return json(await bySeq(list));
    }
    return json(await newest(Math.min(MOST, Math.max(1, Number(url.searchParams.get('limit')) || 100))));
  });

/** `GET /api/live?after=N`. A reconnecting browser says with Last-Event-ID where it stopped; that wins. */
export const live = (request: Request, url: URL): Response => {
  const last = Number(request.headers.get('last-event-id') ?? url.searchParams.get('after') ?? 0);
  return liveStream(request, Number.isSafeInteger(last) ? last : 0);
};
