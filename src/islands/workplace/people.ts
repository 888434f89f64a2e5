/** Who else is here, and what is said about the plan. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect } from 'react';
import type { BodyAt } from '../../core/api/index';
import type { Present } from '../../core/api/people';
import type { Kind } from '../../core/plan/plan';
import type { Comment } from '../../core/plan/review';
import { ask } from '../../client/api';
import { authorName } from './author';
import type { Place } from './place';

const BEAT_MS = 10_000;
const SESSION = typeof crypto === 'undefined' ? '' : crypto.randomUUID();

/** Tells the others where this page is, as long as it is open. */
export const usePresence = (place: Place): void => {
  const text = `/${place.station}${place.item === undefined ? '' : `/${place.item}`}`;
  useEffect(() => {
    const say = () =>
      void ask('POST /api/presence', { body: { session: SESSION, author: authorName(), place: text } }).catch(() => undefined);
    // Someone who walks through a list is told of only where they stop.
    const first = setTimeout(say, 250);
    const beat = setInterval(say, BEAT_MS);
    return () => {
      clearTimeout(first);
      clearInterval(beat);
    };
  }, [text]);
  useEffect(() => {
    const leave = () => {
      const body = new Blob([JSON.stringify({ session: SESSION, author: authorName(), place: '' })], { type: 'application/json' });
      navigator.sendBeacon('/api/presence', body);
    };
    addEventListener('pagehide', leave);
    return () => removeEventListener('pagehide', leave);
  }, []);
};

const usePeopleQuery = () =>
  useQuery({
    queryKey: ['people'],
    queryFn: ({ signal }) => ask('GET /api/people', {}, signal),
    refetchInterval: 20_000,
    staleTime: 5000,
  });

/** Everybody else who is here. */
export const useOthers = (): readonly Present[] => usePeopleQuery().data?.present.filter((p) => p.session !== SESSION) ?? [];

/** Comments on one thing, oldest first. */
export const useComments = (kind: Kind | 'proposal', entityId: string | undefined): readonly Comment[] =>
  usePeopleQuery().data?.comments.filter((c) => c.kind === kind && c.entityId === entityId) ?? [];

export const useSay = () => {
  const queries = useQueryClient();
  return useCallback(
    async (body: BodyAt<'POST /api/comments'>) => {
      await ask('POST /api/comments', { body: { ...body, author: authorName() } });
      await queries.invalidateQueries({ queryKey: ['people'] });
    },
    [queries],
  );
};
