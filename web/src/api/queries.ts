import {
  QueryClient,
  queryOptions,
  useIsMutating,
  useMutation,
  useQuery,
} from '@tanstack/react-query';
import {
  get,
  Problem,
  send,
  type Defaults,
  type Formats,
  type Frames,
  type Health,
  type LedgerLine,
  type Pass,
  type PreviewJob,
  type PreviewRecipe,
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
/** What is so where nobody says otherwise; it does not change while the server runs. */
export const useDefaults = () =>
  useQuery({
    queryKey: ['defaults'],
    queryFn: ({ signal }) => get<Defaults>('/api/defaults', signal),
  }).data;

/** The catalogue of passes; it does not change while the server runs. */
export const usePasses = () =>
  useQuery({
    queryKey: ['passes'],
    queryFn: ({ signal }) => get<Pass[]>('/api/passes', signal),
  });
/** The kinds of files; they do not change while the server runs. */
export const useFormats = () =>
  useQuery({
    queryKey: ['formats'],
    queryFn: ({ signal }) => get<Formats>('/api/formats', signal),
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

/** The newest preview of a shot; null if there is none. */
export const previewQuery = (shot: number) =>
  queryOptions<PreviewJob | null>({
    queryKey: ['preview', shot],
    queryFn: ({ signal }) =>
      get<PreviewJob>(`/api/shots/${shot}/preview`, signal).catch((e: unknown) => {
        if (e instanceof Problem) {
          return null;
        }
        throw e;
      }),
  });

export type FrameProgress = {
  runId: number;
  /** Null while the light of all frames is baked. */
  frame: number | null;
  fraction: number;
  seconds: number;
  /** For the run; while light is baked, for that alone. */
  secondsLeft: number;
};

/** What the server last pushed about the frame in work; null before that. */
export const progressQuery = queryOptions<FrameProgress | null>({
  queryKey: ['progress'],
  queryFn: () => null,
});

/** Whether data can be kept; pushed when that changes. */
export const healthQuery = queryOptions({
  queryKey: ['health'],
  queryFn: ({ signal }) => get<Health>('/api/health', signal),
});

export const useHealth = () => useQuery(healthQuery).data;
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

/** Returns a shot as it is known by now. */
export const shotNow = (id: number) =>
  queryClient.getQueryData(shotsQuery.queryKey)?.find((s) => s.id === id);

const putShot = (id: number, part: Partial<Shot>) =>
  queryClient.setQueryData(shotsQuery.queryKey, (all) =>
    all?.map((s) => (s.id === id ? { ...s, ...part } : s)),
  );

/**
 * Changes parts of a shot: shown at once, sent one after the other, each on top of the version that
 * the server answered last, so that quick changes do not get in each other's way.
 */
const CHANGE_SHOT = ['change shot'];

/** True while a change of a shot is on its way: what is shown then is not yet what the server has. */
export const useSavingShot = () => useIsMutating({ mutationKey: CHANGE_SHOT }) > 0;

export const useChangeShot = () =>
  useMutation({
    mutationKey: CHANGE_SHOT,
    scope: { id: 'shots' },
    mutationFn: ({ id, part }: { id: number; part: Partial<Shot> }) => {
      return send<Shot>('PUT', `/api/shots/${id}`, { ...shotNow(id), ...part });
    },
    onMutate: ({ id, part }) => void putShot(id, part),
    onSuccess: (s, { part }) => {
      const { version } = s;
      const taken = Object.fromEntries(
        Object.keys(part).map((k) => [k, s[k as keyof Shot]]),
      ) as Partial<Shot>;
      putShot(s.id, { ...taken, version });
    },
    onError: () => again('shots'),
  });

/** Makes a preview once all changes on their way have arrived. */
export const useMakePreview = (shot: number) =>
  useMutation({
    scope: { id: 'shots' },
    mutationFn: (recipe: PreviewRecipe) =>
      send<PreviewJob>('POST', `/api/shots/${shot}/preview`, recipe),
    onSuccess: (job) => putPreview(job),
  });

export const useStopPreview = (shot: number) =>
  useMutation({
    mutationFn: () => send<PreviewJob>('DELETE', `/api/shots/${shot}/preview`),
    onSuccess: (job) => putPreview(job),
  });

/** Takes over the state of a preview, unless a newer one is known. */
export function putPreview(job: PreviewJob) {
  queryClient.setQueryData(previewQuery(job.shotId).queryKey, (old) =>
    old && (old.id > job.id || (old.id === job.id && old.done > job.done)) ? old : job,
  );
}

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

/** Starts the render of a shot once all changes on their way have arrived. */
export const useStartRender = () =>
  useMutation({
    scope: { id: 'shots' },
    mutationFn: (shot: number) => send<Run>('POST', `/api/shots/${shot}/runs`),
    onSuccess: () => again('runs'),
  });

export const useRunCommand = () =>
  useMutation({
    mutationFn: (c: { run: number; command: 'cancel' | 'resume' }) =>
      send<Run>('POST', `/api/runs/${c.run}/${c.command}`),
    onSuccess: () => again('runs', 'ledger'),
  });
