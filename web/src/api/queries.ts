import {
  QueryClient,
  queryOptions,
  useIsMutating,
  useMutation,
  useQuery,
} from '@tanstack/react-query';
import { useLocation } from 'react-router';
import {
  get,
  Problem,
  send,
  type Defaults,
  type Done,
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
  type Steps,
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

export const productionsQuery = queryOptions({
  queryKey: ['productions'],
  queryFn: ({ signal }) => get<Production[]>('/api/productions', signal),
});

/** What belongs to a production, by a path that ends in the production's number. */
const listQuery = <T>(key: string, path: string, production: number | undefined) =>
  queryOptions({
    queryKey: [key, production],
    queryFn: ({ signal }) => get<T[]>(`${path}?production=${production}`, signal),
    enabled: production !== undefined,
  });
const revisionsQuery = (p?: number) => listQuery<Revision>('revisions', '/api/revisions', p);
export const shotsQuery = (p?: number) => listQuery<Shot>('shots', '/api/shots', p);
export const runsQuery = (p?: number) => listQuery<Run>('runs', '/api/runs', p);

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
    queryFn: async ({ signal }) =>
      (await get<PreviewJob | undefined>(`/api/shots/${shot}/preview`, signal)) ?? null,
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
export const useProductions = () => useQuery(productionsQuery);

/** The production that the address begins with. */
export function useProduction(): { data: Production | undefined } {
  const address = useLocation().pathname.split('/')[1] ?? '';
  const all = useProductions().data;
  return { data: all?.find((p) => encodeURIComponent(p.address) === address) };
}

export const useRevisions = () => useQuery(revisionsQuery(useProduction().data?.id));
export const useShots = () => useQuery(shotsQuery(useProduction().data?.id));
export const useRuns = () => useQuery(runsQuery(useProduction().data?.id));
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
  queryClient
    .getQueriesData<Shot[]>({ queryKey: ['shots'] })
    .flatMap(([, all]) => all ?? [])
    .find((s) => s.id === id);

const putShot = (id: number, part: Partial<Shot>) =>
  queryClient.setQueriesData<Shot[]>({ queryKey: ['shots'] }, (all) =>
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

export const useChangeProduction = () =>
  useMutation({
    mutationFn: (p: Production) => send<Production>('PUT', `/api/productions/${p.id}`, p),
    onSuccess: () => again('productions', 'revisions'),
  });

export const useAddProduction = () =>
  useMutation({
    mutationFn: (n: { name: string; copyOf: number | null }) =>
      send<Production>('POST', '/api/productions', n),
    onSuccess: () => again('productions'),
  });

/** What this window can undo and redo in a production. */
export const useSteps = (production: number | undefined) =>
  useQuery({
    queryKey: ['steps', production],
    queryFn: ({ signal }) => get<Steps>(`/api/productions/${production}/steps`, signal),
    enabled: production !== undefined,
  }).data;

/** Undoes or redoes this window's last change once all changes on their way have arrived. */
export const useStep = (production: number | undefined) =>
  useMutation({
    scope: { id: 'shots' },
    mutationFn: (way: 'undo' | 'redo') =>
      send<Done>('POST', `/api/productions/${production}/${way}`),
    onSettled: () => again('steps', 'shots', 'revisions', 'productions'),
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
