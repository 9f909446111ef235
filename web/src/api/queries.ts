import { QueryClient, queryOptions, useMutation, useQuery } from '@tanstack/react-query';
import {
  get,
  Problem,
  send,
  type Frames,
  type LedgerLine,
  type Production,
  type Revision,
  type Run,
  type Shot,
} from './client';

/** Data is pushed (api/events), so nothing goes stale by itself. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      refetchOnWindowFocus: false,
      retry: (n, e) => n < 2 && !(e instanceof Problem),
    },
  },
});

export const productionQuery = queryOptions({
  queryKey: ['production'],
  queryFn: ({ signal }) => get<Production>('/api/production', signal),
});
export const revisionsQuery = queryOptions({
  queryKey: ['revisions'],
  queryFn: ({ signal }) => get<Revision[]>('/api/revisions', signal),
});
export const shotsQuery = queryOptions({
  queryKey: ['shots'],
  queryFn: ({ signal }) => get<Shot[]>('/api/shots', signal),
});
export const runsQuery = queryOptions({
  queryKey: ['runs'],
  queryFn: ({ signal }) => get<Run[]>('/api/runs', signal),
});
export const ledgerQuery = (run: number | undefined) =>
  queryOptions({
    queryKey: ['ledger', run],
    queryFn: ({ signal }) => get<LedgerLine[]>(`/api/runs/${run}/ledger`, signal),
    enabled: run !== undefined,
  });

export type FrameProgress = {
  runId: number;
  frame: number;
  fraction: number;
  seconds: number;
  secondsLeft: number;
};

/** What the server last pushed about the frame in work; null before that. */
export const progressQuery = queryOptions<FrameProgress | null>({
  queryKey: ['progress'],
  queryFn: () => null,
});

export const useProduction = () => useQuery(productionQuery);
export const useRevisions = () => useQuery(revisionsQuery);
export const useShots = () => useQuery(shotsQuery);
export const useRuns = () => useQuery(runsQuery);
export const useLedger = (run: number | undefined) => useQuery(ledgerQuery(run));
export const useProgress = () => useQuery(progressQuery).data ?? null;

/** The frames of a range as written, or why it cannot be read. */
export const useFrames = (text: string | undefined) =>
  useQuery({
    queryKey: ['frames', text],
    queryFn: ({ signal }) =>
      get<Frames>(`/api/frames?text=${encodeURIComponent(text ?? '')}`, signal),
    enabled: text !== undefined,
    retry: false,
  });

const again = (...keys: string[]) =>
  Promise.all(keys.map((k) => queryClient.invalidateQueries({ queryKey: [k] })));

export const useAddShot = () =>
  useMutation({
    mutationFn: (s: { revisionId: number; camera: string }) => send<Shot>('POST', '/api/shots', s),
    onSuccess: () => again('shots'),
  });

export const useChangeShot = () =>
  useMutation({
    mutationFn: (s: Shot) => send<Shot>('PUT', `/api/shots/${s.id}`, s),
    onMutate: (s) =>
      queryClient.setQueryData(shotsQuery.queryKey, (all) =>
        all?.map((x) => (x.id === s.id ? s : x)),
      ),
    onSuccess: (s) =>
      queryClient.setQueryData(shotsQuery.queryKey, (all) =>
        all?.map((x) => (x.id === s.id ? s : x)),
      ),
    onError: () => again('shots'),
  });

export const useRemoveShot = () =>
  useMutation({
    mutationFn: (s: Shot) => send('DELETE', `/api/shots/${s.id}`),
    onSuccess: () => again('shots', 'runs'),
  });

export const useRestoreShot = () =>
  useMutation({
    mutationFn: (s: Shot) => send<Shot>('POST', '/api/shots/restored', s),
    onSuccess: () => again('shots'),
  });

export const useChangeProduction = () =>
  useMutation({
    mutationFn: (p: Production) => send<Production>('PUT', '/api/production', p),
    onSuccess: () => again('production', 'revisions'),
  });

export const useLetGo = () =>
  useMutation({
    mutationFn: (shot: number) => send<Run>('POST', `/api/shots/${shot}/runs`),
    onSuccess: () => again('runs'),
  });

export const useRunCommand = () =>
  useMutation({
    mutationFn: (c: { run: number; command: 'cancel' | 'continue' }) =>
      send<Run>('POST', `/api/runs/${c.run}/${c.command}`),
    onSuccess: () => again('runs', 'ledger'),
  });
