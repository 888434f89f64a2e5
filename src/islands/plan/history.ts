/** Versions and the log of changes, as the server has them. */
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../client/api';
import { useDraft } from '../workplace/context';

export const useHistory = () => {
  const { server } = useDraft();
  return useQuery({
    queryKey: ['history', server?.published?.number],
    queryFn: ({ signal }) => ask('GET /api/history', {}, signal),
    staleTime: 2000,
  });
};
