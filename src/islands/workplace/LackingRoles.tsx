/** What no process does, though somebody should; nothing where each role is taken. */
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../client/api';

const AGAIN_MS = 15_000;

const WITHOUT: Readonly<Record<string, string>> = {
  analysis: 'Nothing is computed: figures, findings and persons cannot be shown.',
  intake: 'No messages are accepted.',
  jobs: 'No background work runs: checks over many messages are paused, and a new version checks only new messages.',
  web: 'No pages are served.',
};

export const LackingRoles = () => {
  const { data } = useQuery({
    queryKey: ['processes'],
    queryFn: ({ signal }) => ask('GET /api/processes', {}, signal),
    refetchInterval: AGAIN_MS,
  });
  if (!data || data.lacking.length === 0) return null;
  return (
    <div role="alert" className="border-b border-ink bg-wash px-4 py-1 text-sm">
      {data.lacking.map((role) => (
        <p key={role}>
          No process with the role “{role}” runs. {WITHOUT[role]} Start one: <code>./signal-post start --roles {role}</code>
        </p>
      ))}
    </div>
  );
};
