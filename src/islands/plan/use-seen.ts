/** Which planned pairs of event and source have arrived, since when and in which release. */
import { useMemo } from 'react';
import { useQuery } from '@tanstack/react-query';
import type { SeenPair } from '../../core/arrival/seen';
import { ask } from '../../client/api';

const AGAIN_MS = 15_000;
const NOTHING: readonly SeenPair[] = [];

export interface SeenPairs {
  readonly of: (eventId: string, sourceId: string) => SeenPair | undefined;
  /** Events that any source has sent. */
  readonly events: ReadonlySet<string>;
}

export const useSeen = (): SeenPairs => {
  const { data = NOTHING } = useQuery({
    queryKey: ['seen'],
    queryFn: ({ signal }) => ask('GET /api/seen', {}, signal),
    refetchInterval: AGAIN_MS,
  });
  return useMemo(() => {
    const byPair = new Map(data.map((s) => [JSON.stringify([s.eventId, s.sourceId]), s]));
    return { of: (eventId, sourceId) => byPair.get(JSON.stringify([eventId, sourceId])), events: new Set(data.map((s) => s.eventId)) };
  }, [data]);
};
