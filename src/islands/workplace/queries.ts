/** What is asked of the server, remembered, and asked again when messages or the plan change. */
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../client/api';

const RETRY_MS = 2000;
/** The live stream says when messages came and when findings changed. What comes with time alone, such as a day that is over, is asked for seldom. */
const AGAIN_MS = 60_000;
const patient = { retry: true, retryDelay: RETRY_MS, staleTime: 30_000, refetchInterval: AGAIN_MS } as const;

export const useFindings = () =>
  useQuery({ queryKey: ['findings'], queryFn: ({ signal }) => ask('GET /api/findings', {}, signal), ...patient });
export const useClearances = () =>
  useQuery({ queryKey: ['clearance'], queryFn: ({ signal }) => ask('GET /api/clearance', {}, signal), ...patient });
/** Who signed a question off, its waivers, and how its signal went. */
export const useSignOffs = (questionId: string) =>
  useQuery({
    queryKey: ['clearance', 'sign-offs', questionId],
    queryFn: ({ signal }) => ask('GET /api/sign-offs', { query: { question: questionId } }, signal),
    refetchInterval: 30_000,
  });
export const useAlertRules = () =>
  useQuery({ queryKey: ['alert-rules'], queryFn: ({ signal }) => ask('GET /api/alert-rules', {}, signal) });
const ALERTS_EVERY_MS = 20_000;
export const OPEN_ALERTS = ['alerts', 'count'];
/** The count alone; the list is asked for where it is shown. */
export const useOpenAlerts = () =>
  useQuery({
    queryKey: OPEN_ALERTS,
    queryFn: ({ signal }) => ask('GET /api/alerts', { query: { limit: 0 } }, signal),
    refetchInterval: ALERTS_EVERY_MS,
  });
export const useIdentity = () =>
  useQuery({ queryKey: ['identity'], queryFn: ({ signal }) => ask('GET /api/identity', {}, signal), ...patient });

/** Keys of what depends on the messages. */
export const MESSAGE_QUERIES = ['findings', 'clearance', 'identity'] as const;
