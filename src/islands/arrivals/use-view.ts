/** A view's data: asked again now and then, so that what arrives in between shows. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { AddressText, AnswerOf, QueryOf } from '../../core/api/index';
import { ask, type Asked } from '../../client/api';

const AGAIN_MS = 15_000;

interface Options {
  readonly enabled?: boolean;
  readonly againMs?: number;
  /** What else the answer depends on. */
  readonly key?: string | number;
}

export const useView = <T extends AddressText>(address: T, query?: QueryOf<T>, { enabled = true, againMs = AGAIN_MS, key }: Options = {}) =>
  useQuery<AnswerOf<T>>({
    queryKey: ['view', address, query, key],
    queryFn: ({ signal }) => ask<T>(address, { query } as Asked<T>, signal),
    enabled,
    staleTime: 5000,
    refetchInterval: againMs,
    placeholderData: keepPreviousData,
    retry: 1,
  });
