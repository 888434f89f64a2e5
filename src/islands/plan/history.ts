/** Versions and the log of changes, as the server has them. */
import { useQuery } from '@tanstack/react-query';
import type { LoggedChange } from '../../core/plan/review';
import { get } from '../workplace/api';
import { useDraft } from '../workplace/context';
import type { Published } from '../workplace/draft-store';

export interface History {
  readonly versions: readonly Published[];
  readonly changes: readonly LoggedChange[];
}

export const useHistory = () => {
  const { server } = useDraft();
  return useQuery({
    queryKey: ['history', server?.published?.number],
    queryFn: ({ signal }) => get<History>('/api/history', signal),
    staleTime: 2000,
  });
};
