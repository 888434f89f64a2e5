/** A view's data: asked again now and then, so that what arrives in between shows. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { get } from '../workplace/api';

const AGAIN_MS = 15_000;

export const useView = <T>(path: string, enabled = true, againMs = AGAIN_MS) =>
  useQuery({
    queryKey: ['view', path],
    queryFn: ({ signal }) => get<T>(path, signal),
    enabled,
    staleTime: 5000,
    refetchInterval: againMs,
    placeholderData: keepPreviousData,
    retry: 1,
  });
